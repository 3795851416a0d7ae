import { shortValue } from '../notation/value.ts';
import type { Comparison } from './compare.ts';
import { pairUp } from './pair-up.ts';

/** Compares two maps by key; keys that are objects are paired with equal ones. */
export function compareMaps(
  comparison: Comparison,
  claimed: ReadonlyMap<unknown, unknown>,
  recorded: ReadonlyMap<unknown, unknown>,
): void {
  const [mine, theirs] = [[...claimed.keys()], new Set(recorded.keys())];
  const unpaired: unknown[] = [];
  for (const key of mine) {
    if (!theirs.delete(key)) unpaired.push(key);
    else comparison.below(place(key), claimed.get(key), recorded.get(key));
  }
  const others = [...theirs];
  const alike = pairUp(
    unpaired,
    others,
    (one, other) => isObject(one) && comparison.fits(one, other),
  );
  // Among equal keys, those with equal values belong together.
  const exact = pairUp(
    unpaired,
    others,
    (one, other) =>
      isObject(one) &&
      comparison.fits(one, other) &&
      comparison.fits(claimed.get(one), recorded.get(other)),
  );
  const partners = exact.length === alike.length ? exact : alike;
  for (const [one, other] of partners) {
    comparison.below(place(others[other]), claimed.get(unpaired[one]), recorded.get(others[other]));
  }
  leftOver(unpaired, partners, 0).forEach((key) => {
    comparison.missing(place(key), claimed.get(key));
  });
  leftOver(others, partners, 1).forEach((key) => {
    comparison.surplus(place(key), recorded.get(key));
  });
}

/** Compares two sets; items that are objects are paired with equal ones, each once. */
export function compareSets(
  comparison: Comparison,
  claimed: ReadonlySet<unknown>,
  recorded: ReadonlySet<unknown>,
): void {
  const mine = [...claimed].filter((item) => !recorded.has(item));
  const theirs = [...recorded].filter((item) => !claimed.has(item));
  if (mine.length > 0 || theirs.length > 0) compareUnordered(comparison, mine, theirs);
}

/** Compares items whose order does not matter: each claimed one needs a recorded one of its own. */
export function compareUnordered(
  comparison: Comparison,
  claimed: readonly unknown[],
  recorded: readonly unknown[],
): void {
  const pairs = pairUp(claimed, recorded, (one, other) => comparison.fits(one, other));
  leftOver(claimed, pairs, 0).forEach((item) => {
    comparison.missing(place(item), item);
  });
  leftOver(recorded, pairs, 1).forEach((item) => {
    comparison.surplus(place(item), item);
  });
}

function leftOver(
  items: readonly unknown[],
  pairs: readonly (readonly [number, number])[],
  side: 0 | 1,
): readonly unknown[] {
  const taken = new Set(pairs.map((pair) => pair[side]));
  return items.filter((_, at) => !taken.has(at));
}

function isObject(value: unknown): boolean {
  return typeof value === 'object' && value !== null;
}

/** How a key or an item stands in a path. */
function place(key: unknown): PropertyKey {
  return typeof key === 'string' || typeof key === 'symbol' ? key : shortValue(key);
}
