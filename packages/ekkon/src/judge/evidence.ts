import type { Evidence, PlannedMember } from '../claim/parts.ts';
import type { Journal } from '../record/journal.ts';

/**
 * The evidence for claims on a ledger.
 *
 * @param accounted ids of the entries that are covered so far; computed on first use
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
