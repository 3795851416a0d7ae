import type { HeldEntry } from '../record/journal.ts';

/** Entries once each, as they came. */
export function inOrder(entries: readonly HeldEntry[]): HeldEntry[] {
  const byId = new Map(entries.map((entry) => [entry.id, entry]));
  return [...byId.values()].sort((one, other) => one.id - other.id);
}
