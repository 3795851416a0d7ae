import { fittingEntries, type HeldCountClaim, inRange } from '../claim/count.ts';
import type { JudgedEntry } from '../claim/pattern.ts';
import { explainCount } from './explain-count.ts';
import type { Diagnosis } from './finding.ts';

/** Judges one claim against a record: nothing where it holds, else why it does not. */
export function judge(
  claim: HeldCountClaim,
  entries: readonly JudgedEntry[],
): Diagnosis | undefined {
  const count = fittingEntries(claim.held, entries).length;
  return inRange(claim.range, count) ? undefined : explainCount(claim, entries);
}
