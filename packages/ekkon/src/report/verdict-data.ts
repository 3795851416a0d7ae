import type { Verdict } from '../explain/finding.ts';
import { shortValue } from '../notation/value.ts';
import { sinceData } from './since-data.ts';

/** A verdict in JSON. */
export interface VerdictData {
  readonly ledger: string;
  readonly holds: boolean;
  readonly causes: Verdict['causes'];
  readonly since?: unknown;
  readonly findings: readonly unknown[];
}

/** A verdict as data that JSON carries; values print as reports show them. */
export function verdictData({ ledger, holds, causes, since, findings }: Verdict): VerdictData {
  return {
    ledger,
    holds,
    causes,
    ...(since === undefined ? {} : { since: sinceData(since) }),
    findings: findings.map(({ code, claim, message, culprits, differences, at }) => ({
      code,
      claim,
      message,
      culprits,
      at,
      differences: differences.map(({ path, kind, ...sides }) => ({
        path: path.map((key) => (typeof key === 'symbol' ? String(key) : key)),
        kind,
        ...('expected' in sides ? { expected: shortValue(sides.expected, valueShown) } : {}),
        ...('received' in sides ? { received: shortValue(sides.received, valueShown) } : {}),
      })),
    })),
  };
}

/** Characters of a value. */
const valueShown = 400;
