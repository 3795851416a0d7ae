import { printTarget } from '../notation/label.ts';
import type { Entry } from '../record/entry.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';

/** An entry with its member as a claims file writes it, so it can be pasted there. */
export function shownEntry(held: HeldEntry): Entry {
  return { ...entryData(held), label: printTarget(held.target) };
}

/** Whether a name is that of an entry's member, as claims or reports have it, or of its double. */
export function isNamed({ target }: HeldEntry, name: string): boolean {
  return target.label === name || target.double === name || printTarget(target) === name;
}
