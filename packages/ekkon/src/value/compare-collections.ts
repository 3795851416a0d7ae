import type { Comparison, Fit } from './comparison.ts';
import { isCut } from './gap.ts';
import { type Hints, type Pairing, pairUp } from './pair-up.ts';
import { entriesOf, itemsOf } from './slots.ts';

type MapEntry = readonly [key: unknown, value: unknown];

/** Compares two maps by key; keys that are objects are paired with equal ones. */
export function compareMaps(comparison: Comparison, claimedMap: object, recordedMap: object): void {
  const place = (key: unknown) => comparison.placeOf(key);
  const received = new Map(entriesOf(recordedMap));
  const mine: MapEntry[] = [];
  for (const entry of entriesOf(claimedMap)) {
    const [key, value] = entry;
    if (!received.has(key)) {
      mine.push(entry);
      continue;
    }
    comparison.below(place(key), value, received.get(key));
    received.delete(key);
  }
  const theirs = [...received];
  if (mine.length === 0 && theirs.length === 0) return;
  const keys: Keyed<MapEntry> = { placeOf: ([key]) => place(key), valueOf: ([, value]) => value };
  const [ones, others] = [mine.filter(isWhole), theirs.filter(isWhole)];
  const bothFit = (one: MapEntry, other: MapEntry) => {
    // The cheaper comparison comes first.
    const value = isObject(one[1]) ? 'fits' : comparison.fitOf(one[1], other[1]);
    if (value === 'differs') return value;
    const key = keyFit(comparison, one, other);
    if (key === 'differs') return key;
    return worse(key, isObject(one[1]) ? comparison.fitOf(one[1], other[1]) : value);
  };
  const byValue: Hints<MapEntry, MapEntry> = {
    partOf: ([key, value]) => (isObject(key) ? key : value),
    objectsOf: (one) => one.map((each) => comparison.originalOf(each)),
    objectsOfOther: (other) => other.map((each) => comparison.sourceOf(each)),
  };
  const pairing = pairUp(ones, others, bothFit, byValue);
  if (noteUndecided(comparison, pairing)) return;
  if (pairing.fit === 'undecided') {
    for (const [one, other] of pairing.pairs) {
      const [mineHere, theirsHere] = [ones[one], others[other]] as [MapEntry, MapEntry];
      comparison.below(place(theirsHere[0]), mineHere[0], theirsHere[0]);
      comparison.below(place(theirsHere[0]), mineHere[1], theirsHere[1]);
    }
  }
  // The rest is told by key: an equal key with another value, or none.
  const left = pairing.unpaired.map((at) => ones[at] as MapEntry);
  const othersLeft = pairing.othersUnpaired.map((at) => others[at] as MapEntry);
  const [isMineCut, areTheirsCut] = [ones.length < mine.length, others.length < theirs.length];
  // Whatever is left over differs, by a value or by a key, if nothing was cut.
  const isEnough = comparison.asksOnlyWhether && !isMineCut && !areTheirsCut;
  const byKey = pairUp(
    left,
    othersLeft,
    (one, other) => (isEnough ? 'differs' : keyFit(comparison, one, other)),
    { ...byValue, partOf: ([key]) => key },
  );
  if (pairing.fit === 'differs') {
    for (const [one, other] of byKey.pairs) {
      const [key, value] = othersLeft[other] as MapEntry;
      comparison.below(place(key), left[one]?.[1], value);
    }
  }
  noteUnpaired(comparison, pairing, {
    missing: byKey.unpaired.map((at) => left[at] as MapEntry),
    surplus: byKey.othersUnpaired.map((at) => othersLeft[at] as MapEntry),
    isMineCut,
    areTheirsCut,
    keys,
  });
}

/** Notes that it is undecided whether items have partners, if nobody asks which; gives whether it did. */
function noteUndecided(comparison: Comparison, { fit, pairs, isComplete }: Pairing): boolean {
  if (fit !== 'undecided' || !isComplete || !comparison.asksOnlyWhether) return false;
  comparison.add('opaque', pairs, undefined, { why: 'hidden' });
  return true;
}

function isWhole([key]: MapEntry): boolean {
  return !isCut(key);
}

function keyFit(comparison: Comparison, [one]: MapEntry, [other]: MapEntry): Fit {
  return isObject(one) ? comparison.fitOf(one, other) : 'differs';
}

function worse(one: Fit, other: Fit): Fit {
  if (one === 'differs' || other === 'differs') return 'differs';
  return one === 'undecided' ? one : other;
}

/** Compares two sets; items that are objects are paired with equal ones, each once. */
export function compareSets(comparison: Comparison, claimedSet: object, recordedSet: object): void {
  const [expected, received] = [new Set(itemsOf(claimedSet)), new Set(itemsOf(recordedSet))];
  const mine = [...expected].filter((item) => !received.has(item));
  const theirs = [...received].filter((item) => !expected.has(item));
  compareUnordered(comparison, mine, theirs, (item) => comparison.placeOf(item));
}

/**
 * Compares items whose order does not matter: each expected one needs a received one of its own.
 *
 * @param placeOf how an item stands in a path, given the item and its place in its list
 */
export function compareUnordered(
  comparison: Comparison,
  expected: readonly unknown[],
  received: readonly unknown[],
  placeOf: (item: unknown, at: number) => PropertyKey,
): void {
  const placed = (items: readonly unknown[]) =>
    items.map((item, at) => ({ item, at })).filter(({ item }) => !isCut(item));
  const [ones, others] = [placed(expected), placed(received)];
  const [isMineCut, areTheirsCut] = [
    ones.length < expected.length,
    others.length < received.length,
  ];
  const pairing = pairUp(
    ones.map(({ item }) => item),
    others.map(({ item }) => item),
    (one, other) => comparison.fitOf(one, other),
    {
      partOf: (item) => item,
      objectsOf: (one) => [comparison.originalOf(one)],
      objectsOfOther: (other) => [comparison.sourceOf(other)],
    },
    comparison.asksOnlyWhether && !isMineCut && !areTheirsCut,
  );
  const keys: Keyed<Placed> = {
    placeOf: ({ item, at }) => placeOf(item, at),
    valueOf: ({ item }) => item,
  };
  if (noteUndecided(comparison, pairing)) return;
  if (pairing.fit === 'undecided') {
    for (const [one, other] of pairing.pairs) {
      const there = others[other] as Placed;
      comparison.below(keys.placeOf(there), ones[one]?.item, there.item);
    }
  }
  const missing = pairing.unpaired.map((at) => ones[at] as Placed);
  const surplus = pairing.othersUnpaired.map((at) => others[at] as Placed);
  const [one, other] = [missing[0], surplus[0]];
  const isWhole = pairing.isComplete && !isMineCut && !areTheirsCut;
  const isToTell = isWhole && !comparison.asksOnlyWhether;
  if (isToTell && one !== undefined && other !== undefined && missing.length + surplus.length === 2)
    comparison.below(keys.placeOf(other), one.item, other.item);
  else noteUnpaired(comparison, pairing, { missing, surplus, isMineCut, areTheirsCut, keys });
}

interface Placed {
  readonly item: unknown;
  readonly at: number;
}

/** How an element of a collection appears in a path, and which value is compared there. */
interface Keyed<T> {
  readonly placeOf: (one: T) => PropertyKey;
  readonly valueOf: (one: T) => unknown;
}

interface Unpaired<T> {
  readonly missing: readonly T[];
  readonly surplus: readonly T[];
  /** Whether part of the expected collection was too large to keep, so it may expect more. */
  readonly isMineCut: boolean;
  /** The same of the received one. */
  readonly areTheirsCut: boolean;
  readonly keys: Keyed<T>;
}

/** Notes elements without a partner, unless the partner may be in the part that was not kept. */
function noteUnpaired<T>(
  comparison: Comparison,
  { isComplete }: Pairing,
  { missing, surplus, isMineCut, areTheirsCut, keys }: Unpaired<T>,
): void {
  if (!isComplete || isMineCut || areTheirsCut)
    comparison.add('opaque', missing.map(keys.valueOf), surplus.map(keys.valueOf), {
      why: 'bound',
    });
  if (!isComplete) return;
  const [isMissing, isSurplus] = [areTheirsCut ? [] : missing, isMineCut ? [] : surplus];
  for (const each of isMissing) comparison.missing(keys.placeOf(each), keys.valueOf(each));
  for (const each of isSurplus) comparison.surplus(keys.placeOf(each), keys.valueOf(each));
}

function isObject(value: unknown): boolean {
  return typeof value === 'object' && value !== null;
}
