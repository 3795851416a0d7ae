import type { Evidence, PlannedMember } from '../claim/parts.ts';
import type { Journal } from '../record/journal.ts';

/**
 * What claims on a ledger are judged on.
 *
 * @param accounted ids of the entries that are accounted for so far; worked out when it is first asked for
 * @param planned the members that were planned
 */
export function makeEvidence(
  journal: Journal,
  accounted: () => ReadonlySet<number>,
  planned: () => readonly PlannedMember[],
): Evidence {
  return {
    journal,
    accounted,
    planned: (double) => planned().filter(({ target }) => target.double === double),
  };
}
