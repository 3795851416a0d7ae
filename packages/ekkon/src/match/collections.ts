import { printClaimed, shortValue } from '../notation/value.ts';
import { copyClaimed } from '../value/claimed-copy.ts';
import { compareUnordered } from '../value/compare-collections.ts';
import type { Difference } from '../value/difference.ts';
import { isCut } from '../value/gap.ts';
import { kindOf } from '../value/kind.ts';
import { refuse } from '../value/refuse.ts';
import { bytesOf, entriesOf, isTyped, itemsOf, mapSize, setSize } from '../value/slots.ts';
import { takesOnly } from '../value/takes-only.ts';
import { noteSize } from './asked-empty.ts';
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
  const expected = copyClaimed(part);
  const matcher: Matcher<never> = makeMatcher({
    family: 'includes',
    looksInside: true,
    parameters: [expected],
    get prints() {
      return `includes(${printClaimed(expected)})`;
    },
    differences(received, context) {
      const differs: Difference = { path: [], kind: 'changed', expected: matcher, received };
      if (typeof received === 'string')
        return typeof expected === 'string' && received.includes(expected) ? [] : [differs];
      const items = listOf(received) ?? [];
      const fits = items.map((item) => fitOf(expected, item, context));
      if (fits.includes('fits')) return [];
      const undecided = fits.indexOf('undecided');
      if (undecided < 0) return [differs];
      return compare(expected, items[undecided], context).map((each) => ({
        ...each,
        path: [undecided, ...each.path],
      }));
    },
  });
  return matcher;
}

/**
 * Accepts arrays and sets of which every item matches. An empty one matches too; to require items, see `sized` and
 * `allOf`.
 *
 * @example
 * call(nightLog.write, ['frames', allItems(partial({ seconds: 30 }))])
 */
export function allItems(item: unknown): Matcher<never> {
  takesOnly(1, arguments, allItems);
  const expected = copyClaimed(item);
  const matcher: Matcher<never> = makeMatcher({
    family: 'allItems',
    looksInside: true,
    parameters: [expected],
    get prints() {
      return `allItems(${printClaimed(expected)})`;
    },
    differences(received, context) {
      const items = listOf(received);
      if (items === undefined) return [{ path: [], kind: 'type', expected: matcher, received }];
      noteSize(matcher, items.length);
      return items.flatMap((each, at) =>
        compare(expected, each, context).map((difference) => ({
          ...difference,
          path: [at, ...difference.path],
        })),
      );
    },
  });
  return matcher;
}

/**
 * Accepts values with this many items: arrays, sets, maps and typed arrays; texts by their length, buffers in bytes.
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
    differences(received) {
      const found = sizeOf(received);
      if (isPart(received))
        return [{ path: [], kind: 'opaque', expected: matcher, received, why: 'bound' }];
      if (found === size) return [];
      return [
        { path: [], kind: found === undefined ? 'type' : 'changed', expected: matcher, received },
      ];
    },
  });
  return matcher;
}

/**
 * Accepts arrays and sets that hold exactly these items in any order: each received item counts for one expected item.
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
  const expected = copyClaimed(items);
  const matcher: Matcher<never> = makeMatcher({
    family: 'unordered',
    looksInside: true,
    parameters: [expected],
    get prints() {
      return `unordered(${printClaimed(expected)})`;
    },
    differences(received, context) {
      const held = listOf(received);
      if (held === undefined) return [{ path: [], kind: 'type', expected: matcher, received }];
      const comparison = new Walk(context, differencesKept);
      compareUnordered(comparison, expected, held, (_, at) => at);
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
