import type { HeldClaim } from '../claim/claim.ts';
import type { UnawaitedDiagnosis } from '../explain/rule-finding.ts';
import { levelFor } from '../explain/rule-level.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { type Broken, brokenAt } from './broken.ts';

/** A wait, as far as it matters here. */
interface Wait {
  readonly claim: HeldClaim;
  readonly unawaited: UnawaitedDiagnosis | undefined;
}

/** Waits that nobody awaited: what came after them in the test did not wait. */
export function unawaitedReaches({ waits }: LedgerRecord): readonly Broken[] {
  return (waits as readonly Wait[]).flatMap(({ claim, unawaited }) =>
    unawaited === undefined ? [] : brokenAt(levelFor('unawaitedReach', claim), () => unawaited),
  );
}
