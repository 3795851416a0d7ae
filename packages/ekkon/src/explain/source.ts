import { sameValue } from '../match/same-value.ts';
import type { Entry } from '../record/entry.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Difference } from '../value/difference.ts';
import { isPrimitive } from '../value/is-primitive.ts';
import { kindOf } from '../value/kind.ts';

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
    if (source !== undefined && (received !== undefined || isSurprising(source, entries)))
      return entryData(source);
  }
  return undefined;
}

const differencesTraced = 4;

/** Whole numbers below this one are everywhere. */
const smallNumber = 10;

/** Whether a primitive is rare enough that two equal ones are hardly ever chance. */
export function tellsMuch(value: unknown): boolean {
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

/**
 * Whether a call that returned undefined seems to have had more to return: another call of its member did, or it was
 * not given undefined itself, and no other member's calls were answered with undefined by a function of the test before.
 */
function isSurprising(source: HeldEntry, entries: readonly HeldEntry[]): boolean {
  const own = entries.filter(({ target }) => target === source.target);
  if (own.some(givesMore)) return true;
  return isComputedNothing(source) && !holdsUndefined(source.args) && !isUsual(source, entries);
}

function isUsual(source: HeldEntry, entries: readonly HeldEntry[]): boolean {
  return entries.some(
    (other) =>
      other.target !== source.target && other.began < source.began && isComputedNothing(other),
  );
}

function givesMore(entry: HeldEntry): boolean {
  return returns(entry) && entry.outcome.value !== undefined;
}

/** Whether a function of the test answered, with undefined. */
function isComputedNothing(entry: HeldEntry): boolean {
  return entry.more?.answer?.reply === 'computes' && returns(entry) && !givesMore(entry);
}

function returns(entry: HeldEntry): entry is HeldEntry & { outcome: { value: unknown } } {
  const { state } = entry.outcome;
  return state === 'returned' || state === 'fulfilled';
}

/** How deep in a value undefined is looked for. */
const depthSought = 3;

/** Whether undefined is a value, or a part of plain data. */
function holdsUndefined(value: unknown, depth = depthSought): boolean {
  if (typeof value !== 'object' || value === null) return value === undefined;
  const hasParts = kindOf(value) === 'plain' || kindOf(value) === 'array';
  return (
    hasParts && depth > 0 && Object.values(value).some((each) => holdsUndefined(each, depth - 1))
  );
}
