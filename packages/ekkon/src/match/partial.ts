import { printLine, shortValue } from '../notation/value.ts';
import { copyOf } from '../record/copy.ts';
import { kindOf } from '../record/kind.ts';
import { refuse } from '../record/refuse.ts';
import { isRevealed } from '../record/revealed.ts';
import { compare } from './compare.ts';
import { propertiesIn } from './compare-properties.ts';
import type { Difference } from './difference.ts';
import { type Matcher, makeMatcher, matchingOf } from './matcher.ts';

/**
 * Accepts objects that have at least these properties. A value inside is compared whole, unless it is
 * a matcher: `partial` itself, for one.
 *
 * @throws TypeError where it is given no object, or one without properties, so that it would accept all
 * @example
 * call(camera.expose, [partial({ filter: 'red', at: partial({ dec: 22 }) })])
 */
export function partial<T extends object>(part: T): Matcher<never> {
  const isObject = typeof part === 'object' && part !== null && matchingOf(part) === undefined;
  if (!isObject || !['plain', 'instance', 'array'].includes(kindOf(part))) {
    refuse(
      `partial() takes an object with the properties meant, and was given ${shortValue(part)}.`,
      partial,
    );
  }
  const claimed = copyOf(part);
  const keys = propertiesIn(claimed);
  if (keys.length === 0) {
    refuse(
      `partial(${shortValue(part)}) has no property, so that it would accept every object. Write typeOf('object').`,
      partial,
    );
  }
  const matcher: Matcher<never> = makeMatcher({
    get reads() {
      return `partial(${printLine(claimed)})`;
    },
    differences(recorded, context) {
      const held = isRevealed(recorded) ? recorded.content : recorded;
      if (typeof held !== 'object' || held === null) {
        return [{ path: [], kind: 'type', claimed: matcher, recorded }];
      }
      const differences: Difference[] = [];
      for (const key of keys) {
        const value = Reflect.get(claimed, key);
        if (Object.hasOwn(held, key)) {
          const below = compare(value, Reflect.get(held, key), context);
          differences.push(...below.map((each) => ({ ...each, path: [key, ...each.path] })));
        } else if (matchingOf(value)?.acceptsAbsence !== true) {
          differences.push({ path: [key], kind: 'missing', claimed: value });
        }
      }
      return differences;
    },
  });
  return matcher;
}
