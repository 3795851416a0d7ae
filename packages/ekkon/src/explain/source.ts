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
    if (source !== undefined) return entryData(source);
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

function hasReturned({ ended, outcome, more }: HeldEntry, value: unknown, before: number): boolean {
  if (ended === undefined || ended >= before) return false;
  if (outcome.state !== 'returned' && outcome.state !== 'fulfilled') return false;
  if (!sameValue(outcome.value, value)) return false;
  // Most members return undefined, as they should: of those, only a computed reply may have gone wrong.
  return value !== undefined || more?.answer?.reply.startsWith('computes') === true;
}
