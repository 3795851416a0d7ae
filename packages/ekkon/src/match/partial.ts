import { printClaimed, shortValue } from '../notation/value.ts';
import { copyClaimed } from '../value/claimed-copy.ts';
import { isInherited } from '../value/compare-properties.ts';
import type { Difference } from '../value/difference.ts';
import { isNative } from '../value/is-native.ts';
import { kindOf } from '../value/kind.ts';
import { listedKeys, platformMember } from '../value/prototype-chain.ts';
import { refuse } from '../value/refuse.ts';
import { isRevealed } from '../value/revealed.ts';
import { isSnapshot } from '../value/snapshot.ts';
import { takesOnly } from '../value/takes-only.ts';
import { compare } from './compare.ts';
import { type Matcher, makeMatcher, matchingOf, type PartialMatcher } from './matcher.ts';

/**
 * Accepts objects that have at least these properties. A value inside is compared whole, unless it is
 * a matcher: `partial` itself, for one.
 *
 * @throws TypeError if it is given no object, or one without properties, because it would accept every object
 * @example
 * call(camera.expose, [partial({ filter: 'red', at: partial({ dec: 22 }) })])
 */
export function partial<const P extends object>(part: P): PartialMatcher<P> {
  takesOnly(1, arguments, partial);
  const isData = isObject(part) && matchingOf(part) === undefined;
  if (!isData || !['plain', 'instance', 'array'].includes(kindOf(part))) {
    refuse(
      `partial() takes an object with the properties meant, and was given ${shortValue(part)}.`,
      partial,
    );
  }
  const expected = copyClaimed(part);
  const keys = listedKeys(expected);
  if (keys.length === 0) {
    refuse(
      `partial(${shortValue(part)}) has no property, so it would accept every object. Write typeOf('object').`,
      partial,
    );
  }
  const matcher: Matcher<never> = makeMatcher({
    family: 'partial',
    parameters: [expected],
    get prints() {
      return `partial(${printClaimed(expected)})`;
    },
    differences(received, context) {
      const held = shownOf(received);
      // A promise in place of an object was not awaited.
      if (typeof held !== 'object' || held === null || received instanceof Promise) {
        return [{ path: [], kind: 'type', expected: matcher, received }];
      }
      const differences: Difference[] = [];
      for (const key of keys) {
        const value = Reflect.get(expected, key);
        const place = placeIn(held, key);
        if (place !== undefined) {
          const below = compare(value, place.value, context);
          differences.push(...below.map((each) => ({ ...each, path: [key, ...each.path] })));
        } else if (isObject(received) && isUnread(received, key)) {
          const unread = isInherited(received, key)
            ? ({ why: 'inherited', reason: key } as const)
            : ({ why: 'unread', reason: `its ${String(key)} was not read` } as const);
          differences.push({ path: [key], kind: 'opaque', expected: value, received, ...unread });
        } else if (matchingOf(value)?.acceptsAbsence !== true) {
          differences.push({ path: [key], kind: 'missing', expected: value });
        }
      }
      return differences;
    },
  });
  return matcher as unknown as PartialMatcher<P>;
}

/** The visible state of a received value: for an object kept as it is, the state at the time of the call. */
function shownOf(received: unknown): unknown {
  if (isRevealed(received) || isSnapshot(received)) return received.content;
  if (!isObject(received)) return received;
  const kind = kindOf(received);
  return kind === 'thing' || kind === 'hidden' ? nothing : received;
}

const nothing = Object.freeze({});

/**
 * The known value below a key: the object's own, a shared one of its prototype, or the result of a platform accessor,
 * such as a map's size.
 */
function placeIn(held: object, key: PropertyKey): { readonly value: unknown } | undefined {
  if (Object.hasOwn(held, key)) return { value: Reflect.get(held, key) };
  if (held === nothing) return undefined;
  const inherited = platformMember(held, key);
  if (inherited === undefined) return undefined;
  if ('value' in inherited) {
    const isMethod = typeof inherited.value === 'function';
    return isMethod ? undefined : { value: inherited.value };
  }
  if (inherited.get === undefined || !isNative(inherited.get)) return undefined;
  try {
    return { value: Reflect.apply(inherited.get, held, []) };
  } catch {
    return undefined;
  }
}

/** Whether an object has a property that was not recorded. */
function isUnread(received: object, key: PropertyKey): boolean {
  if (isInherited(received, key)) return true;
  if (isSnapshot(received)) return received.type === undefined && Reflect.has(received.of, key);
  return shownOf(received) === nothing && Reflect.has(received, key);
}

function isObject(value: unknown): value is object {
  return typeof value === 'object' && value !== null;
}
