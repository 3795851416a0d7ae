import { printClaimed, shortValue } from '../notation/value.ts';
import { copyClaimed } from '../value/claimed-copy.ts';
import { compareUnordered } from '../value/compare-collections.ts';
import type { Difference } from '../value/difference.ts';
import { isCut } from '../value/gap.ts';
import { kindOf } from '../value/kind.ts';
import { refuse } from '../value/refuse.ts';
import { bytesOf, entriesOf, isTyped, itemsOf, mapSize, setSize } from '../value/slots.ts';
import { takesOnly } from '../value/takes-only.ts';
import { compare, differencesKept, fitOf, Walk } from './compare.ts';
import { type Matcher, makeMatcher } from './matcher.ts';

/**
 * Accepts texts that include a part, and arrays and sets that include an item; the item may be a matcher.
 *
 * @throws TypeError if the part is an empty text, which every text includes
 * @example
 * call(nightLog.write, [includes('rain')])
 */
export function includes(part: unknown): Matcher<never> {
  takesOnly(1, arguments, includes);
  if (part === '')
    refuse('includes("") would accept every text. Write typeOf(\'string\').', includes);
  const claimed = copyClaimed(part);
  const matcher: Matcher<never> = makeMatcher({
    family: 'includes',
    looksInside: true,
    parameters: [claimed],
    get prints() {
      return `includes(${printClaimed(claimed)})`;
    },
    differences(recorded, context) {
      const differs: Difference = { path: [], kind: 'changed', claimed: matcher, recorded };
      if (typeof recorded === 'string')
        return typeof claimed === 'string' && recorded.includes(claimed) ? [] : [differs];
      const items = listOf(recorded) ?? [];
      const fits = items.map((item) => fitOf(claimed, item, context));
      if (fits.includes('fits')) return [];
      const undecided = fits.indexOf('undecided');
      if (undecided < 0) return [differs];
      return compare(claimed, items[undecided], context).map((each) => ({
        ...each,
        path: [undecided, ...each.path],
      }));
    },
  });
  return matcher;
}

/**
 * Accepts arrays and sets each item of which fits; one without items as well, see `sized` and `allOf`.
 *
 * @example
 * call(nightLog.write, ['frames', allItems(partial({ seconds: 30 }))])
 */
export function allItems(item: unknown): Matcher<never> {
  takesOnly(1, arguments, allItems);
  const claimed = copyClaimed(item);
  const matcher: Matcher<never> = makeMatcher({
    family: 'allItems',
    looksInside: true,
    parameters: [claimed],
    get prints() {
      return `allItems(${printClaimed(claimed)})`;
    },
    differences(recorded, context) {
      const items = listOf(recorded);
      if (items === undefined) return [{ path: [], kind: 'type', claimed: matcher, recorded }];
      return items.flatMap((each, at) =>
        compare(claimed, each, context).map((difference) => ({
          ...difference,
          path: [at, ...difference.path],
        })),
      );
    },
  });
  return matcher;
}

/**
 * Accepts what has so many items: arrays, sets, maps and typed arrays; texts by their length, buffers in bytes.
 *
 * @throws TypeError if the size is not a whole number of 0 or more
 * @example
 * call(nightLog.write, ['frames', sized(3)])
 */
export function sized(size: number): Matcher<never> {
  takesOnly(1, arguments, sized);
  if (!Number.isSafeInteger(size) || size < 0) {
    refuse(`sized() takes a whole number of 0 or more, not ${shortValue(size)}.`, sized);
  }
  const matcher: Matcher<never> = makeMatcher({
    family: 'sized',
    looksInside: true,
    parameters: [size],
    prints: `sized(${size})`,
    differences(recorded) {
      const found = sizeOf(recorded);
      if (isPart(recorded))
        return [{ path: [], kind: 'opaque', claimed: matcher, recorded, why: 'bound' }];
      if (found === size) return [];
      return [
        { path: [], kind: found === undefined ? 'type' : 'changed', claimed: matcher, recorded },
      ];
    },
  });
  return matcher;
}

/**
 * Accepts arrays and sets that hold just these items in any order, each claimed item met by a recorded
 * one of its own.
 *
 * @throws TypeError if it is given no array
 * @example
 * call(nightLog.write, ['frames', unordered([{ id: 'frame-2' }, { id: 'frame-1' }])])
 */
export function unordered(items: readonly unknown[]): Matcher<never> {
  takesOnly(1, arguments, unordered);
  if (!Array.isArray(items)) {
    refuse(`unordered() takes an array of items, and was given ${shortValue(items)}.`, unordered);
  }
  const claimed = copyClaimed(items);
  const matcher: Matcher<never> = makeMatcher({
    family: 'unordered',
    looksInside: true,
    parameters: [claimed],
    get prints() {
      return `unordered(${printClaimed(claimed)})`;
    },
    differences(recorded, context) {
      const held = listOf(recorded);
      if (held === undefined) return [{ path: [], kind: 'type', claimed: matcher, recorded }];
      const comparison = new Walk(context, differencesKept);
      compareUnordered(comparison, claimed, held, (_, at) => at);
      return comparison.found;
    },
  });
  return matcher;
}

/** The items of an array, a typed array or a set; `undefined` for anything else. */
function listOf(value: unknown): readonly unknown[] | undefined {
  if (typeof value !== 'object' || value === null) return undefined;
  switch (kindOf(value)) {
    case 'array':
      return value as readonly unknown[];
    case 'bytes':
      return isTyped(value) ? Array.from(value) : undefined;
    case 'set':
      return itemsOf(value);
    default:
      return undefined;
  }
}

/** Whether part of a list or a map was too large to record. */
function isPart(value: unknown): boolean {
  const isMap = typeof value === 'object' && value !== null && kindOf(value) === 'map';
  const items = isMap ? entriesOf(value).map(([key]) => key) : listOf(value);
  return items?.some(isCut) ?? false;
}

function sizeOf(value: unknown): number | undefined {
  if (typeof value === 'string') return value.length;
  if (typeof value !== 'object' || value === null) return undefined;
  switch (kindOf(value)) {
    case 'array':
      return (value as readonly unknown[]).length;
    case 'set':
      return setSize.call(value);
    case 'map':
      return mapSize.call(value);
    case 'bytes':
      return isTyped(value) ? value.length : bytesOf(value).length;
    default:
      return undefined;
  }
}
