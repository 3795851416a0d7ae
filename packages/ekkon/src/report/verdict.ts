import type { FoundCauses } from '../explain/cause.ts';
import type { Diagnosis, Finding, Verdict } from '../explain/finding.ts';
import type { Journal } from '../record/journal.ts';
import { causeOf } from './cause-words.ts';
import { messageOf } from './findings.ts';

/** All findings on a ledger, as one verdict. */
export function makeVerdict(
  { name }: Journal,
  found: readonly Diagnosis[],
  { claims, closing }: Pick<Verdict, 'claims' | 'closing'>,
  causes: FoundCauses = noCauses,
): Verdict {
  return {
    holds: found.length === 0,
    ledger: name,
    closing,
    claims,
    findings: found.map(asFinding),
    causes: causes.causes.map(causeOf),
    ...(causes.isBounded ? { causesBounded: true } : {}),
  };
}

const noCauses: FoundCauses = { causes: [], isBounded: false };

/** A diagnosis with its sentence, which is made when it is asked for. */
function asFinding(diagnosis: Diagnosis): Finding {
  const differences =
    'nearest' in diagnosis
      ? (diagnosis.nearest[0]?.differences ?? [])
      : 'differences' in diagnosis
        ? diagnosis.differences
        : [];
  let message: string | undefined;
  const finding: Finding = {
    ...diagnosis,
    differences,
    get message() {
      message ??= messageOf(diagnosis);
      return message;
    },
  };
  // The claim leads to all of its ledger: whoever prints a finding, or turns it into JSON, wants none of that.
  return Object.defineProperty(finding, 'of', { enumerable: false });
}
