import { sameValue } from '../match/same-value.ts';
import type { Entry } from '../record/entry.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Difference } from '../value/difference.ts';
import { isPrimitive } from '../value/is-primitive.ts';

/**
 * The last call before an entry that returned a value which the entry received instead of the expected one: the fault
 * is often there. `undefined` if no value says so much that this would be more than chance.
 *
 * @param entries the record
 */
export function sourceOf(
  entry: HeldEntry,
  differences: readonly Difference[],
  entries: readonly HeldEntry[],
): Entry | undefined {
  const wrong = differences.filter(({ kind }) => kind === 'changed' || kind === 'type');
  for (const { received } of wrong.slice(0, differencesTraced)) {
    if (!tellsMuch(received)) continue;
    const source = entries.findLast((other) => hasReturned(other, received, entry.began));
    // A member that only ever returns undefined returned it as it should.
    const isRight = (other: HeldEntry) => received === undefined && !givesMore(other, entries);
    if (source !== undefined && !isRight(source)) return entryData(source);
  }
  return undefined;
}

const differencesTraced = 4;

/** Whole numbers below this one are everywhere. */
const smallNumber = 10;

function tellsMuch(value: unknown): boolean {
  if (typeof value === 'number') return !(Number.isInteger(value) && Math.abs(value) < smallNumber);
  if (typeof value === 'string') return value !== '';
  return isPrimitive(value) && typeof value !== 'boolean' && value !== null;
}

function hasReturned(entry: HeldEntry, value: unknown, before: number): boolean {
  const { ended } = entry;
  return (
    ended !== undefined && ended < before && returns(entry) && sameValue(entry.outcome.value, value)
  );
}

/** Whether another call of the member returned more than undefined. */
function givesMore({ target }: HeldEntry, entries: readonly HeldEntry[]): boolean {
  return entries.some(
    (each) => each.target === target && returns(each) && each.outcome.value !== undefined,
  );
}

function returns(entry: HeldEntry): entry is HeldEntry & { outcome: { value: unknown } } {
  const { state } = entry.outcome;
  return state === 'returned' || state === 'fulfilled';
}
