import { shortValue } from '../notation/value.ts';
import { isGap } from '../record/gap.ts';
import { entriesOf, itemsOf } from '../record/slots.ts';
import type { Comparison } from './comparison.ts';
import { type Pairing, pairUp } from './pair-up.ts';

/** Compares two maps by key; keys that are objects are paired with equal ones. */
export function compareMaps(comparison: Comparison, claimedMap: object, recordedMap: object): void {
  const [claimed, recorded] = [new Map(entriesOf(claimedMap)), new Map(entriesOf(recordedMap))];
  const theirs = new Set(recorded.keys());
  const mine: unknown[] = [];
  for (const [key, value] of claimed) {
    if (theirs.delete(key)) comparison.below(place(key), value, recorded.get(key));
    else mine.push(key);
  }
  if (mine.length === 0 && theirs.size === 0) return;
  const others = [...theirs];
  const { pairs, unpaired, othersUnpaired, certain } = pairKeys(
    comparison,
    claimed,
    mine,
    recorded,
    others,
  );
  for (const [one, other] of pairs) {
    comparison.below(place(others[other]), claimed.get(mine[one]), recorded.get(others[other]));
  }
  if (!certain || wasCut(mine) || wasCut(others)) {
    comparison.add('opaque', claimedMap, recordedMap, { why: 'bound' });
    return;
  }
  for (const at of unpaired) comparison.missing(place(mine[at]), claimed.get(mine[at]));
  for (const at of othersUnpaired) comparison.surplus(place(others[at]), recorded.get(others[at]));
}

/** Whether part of a collection was not recorded, so that what is not there may have been. */
function wasCut(items: readonly unknown[]): boolean {
  return items.some((item) => isGap(item));
}

/** Pairs equal keys; if several are equal, those with equal values belong together. */
function pairKeys(
  comparison: Comparison,
  claimed: ReadonlyMap<unknown, unknown>,
  mine: readonly unknown[],
  recorded: ReadonlyMap<unknown, unknown>,
  others: readonly unknown[],
): Pairing {
  const alike = (one: unknown, other: unknown) => isObject(one) && comparison.fits(one, other);
  const exact = pairUp(
    mine,
    others,
    (one, other) => alike(one, other) && comparison.fits(claimed.get(one), recorded.get(other)),
  );
  if (exact.unpaired.length === 0) return exact;
  const pairing = pairUp(mine, others, alike);
  return exact.pairs.length === pairing.pairs.length ? exact : pairing;
}

/** Compares two sets; items that are objects are paired with equal ones, each once. */
export function compareSets(comparison: Comparison, claimedSet: object, recordedSet: object): void {
  const [claimed, recorded] = [new Set(itemsOf(claimedSet)), new Set(itemsOf(recordedSet))];
  const mine = [...claimed].filter((item) => !recorded.has(item));
  const theirs = [...recorded].filter((item) => !claimed.has(item));
  compareUnordered(comparison, mine, theirs, place);
}

/**
 * Compares items whose order does not matter: each claimed one needs a recorded one of its own.
 *
 * @param placeOf how an item stands in a path, given the item and its place in its list
 */
export function compareUnordered(
  comparison: Comparison,
  claimed: readonly unknown[],
  recorded: readonly unknown[],
  placeOf: (item: unknown, at: number) => PropertyKey,
): void {
  const { unpaired, othersUnpaired, certain } = pairUp(claimed, recorded, (one, other) =>
    comparison.fits(one, other),
  );
  if (!certain || wasCut(claimed) || wasCut(recorded)) {
    comparison.add('opaque', claimed, recorded, { why: 'bound' });
    return;
  }
  const [missing, surplus] = [unpaired[0], othersUnpaired[0]];
  if (
    missing !== undefined &&
    surplus !== undefined &&
    unpaired.length + othersUnpaired.length === 2
  ) {
    comparison.below(placeOf(recorded[surplus], surplus), claimed[missing], recorded[surplus]);
    return;
  }
  for (const at of unpaired) comparison.missing(placeOf(claimed[at], at), claimed[at]);
  for (const at of othersUnpaired) comparison.surplus(placeOf(recorded[at], at), recorded[at]);
}

function isObject(value: unknown): boolean {
  return typeof value === 'object' && value !== null;
}

/** How a key or an item stands in a path. */
function place(key: unknown): PropertyKey {
  return typeof key === 'string' || typeof key === 'symbol' ? key : shortValue(key);
}
