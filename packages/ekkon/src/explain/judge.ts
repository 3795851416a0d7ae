import { countFor, type HeldCountClaim, inRange } from '../claim/count.ts';
import type { JudgedEntry } from '../claim/pattern.ts';
import { explainCount } from './explain-count.ts';
import type { Diagnosis } from './finding.ts';

/**
 * Judges one claim against a record: nothing where it holds, else why it does not. Where it depends on
 * calls of which it cannot be told whether they fit, it does not hold.
 */
export function judge(
  claim: HeldCountClaim,
  entries: readonly JudgedEntry[],
): Diagnosis | undefined {
  const count = countFor(claim.held, entries);
  const least = count.fitting.length;
  const most = least + count.undecided.length;
  const holds = inRange(claim.range, least) && inRange(claim.range, most);
  return holds ? undefined : explainCount(claim, entries, count);
}
