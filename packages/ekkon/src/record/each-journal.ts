import type { Journal } from './journal.ts';

/**
 * A folder's data about each ledger, created on first use. Each part of a ledger's state belongs to one folder, and
 * lives as long as the ledger does.
 */
export function forEachJournal<T extends object>(
  make: (journal: Journal) => T,
): (journal: Journal) => T {
  const parts = new WeakMap<Journal, T>();
  return (journal) => {
    const known = parts.get(journal);
    if (known !== undefined) return known;
    const made = make(journal);
    parts.set(journal, made);
    return made;
  };
}
