import { printClaimed } from '../notation/value.ts';
import { copyClaimed } from '../value/claimed-copy.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';
import { compare, fitOf } from './compare.ts';
import {
  type Matcher,
  makeMatcher,
  matchingOf,
  type PartialMatcher,
  type Predicate,
  type Wide,
} from './matcher.ts';

/**
 * Accepts every value that does not match. A missing value is not accepted.
 *
 * @example
 * call(camera.expose, [partial({ filter: not('clear') })])
 */
export function not(item: unknown): Matcher<never> {
  takesOnly(1, arguments, not);
  const expected = copyClaimed(item);
  const matcher: Matcher<never> = makeMatcher({
    family: 'not',
    takesGaps: true,
    parameters: [expected],
    get prints() {
      return `not(${printClaimed(expected)})`;
    },
    differences(received, context) {
      const fit = fitOf(expected, received, context);
      if (fit === 'differs') return [];
      // If it cannot be told that a value matches, it cannot be told that it does not.
      if (fit === 'undecided') return compare(expected, received, context);
      return [{ path: [], kind: 'changed', expected: matcher, received }];
    },
  });
  return matcher;
}

/**
 * Accepts values that match all of these.
 *
 * @throws TypeError if nothing is given
 * @example
 * call(nightLog.write, ['frames', allOf(sized(2), allItems(partial({ seconds: 30 })))])
 */
export function allOf(...these: unknown[]): Matcher<never> {
  if (these.length === 0)
    refuse('allOf() takes the values and matchers that must all match, and was given none.', allOf);
  const expected = copyClaimed(these);
  return makeMatcher({
    family: 'allOf',
    takesGaps: true,
    parameters: expected,
    get prints() {
      return `allOf(${expected.map((each) => printClaimed(each)).join(', ')})`;
    },
    acceptsAbsence: expected.every((each) => matchingOf(each)?.acceptsAbsence === true),
    differences: (received, context) =>
      expected.flatMap((each) => compare(each, received, context)),
  });
}

/** The type of a value in the place of any of some values or matchers. */
type AnyOf<X> = X extends PartialMatcher<unknown> | Predicate<never>
  ? X
  : Matcher<X extends Matcher<infer U> ? U : Wide<X>>;

/**
 * Accepts values that match any of these.
 *
 * @throws TypeError if nothing is given
 * @example
 * call(camera.expose, [partial({ filter: anyOf('red', 'green', missing) })])
 */
export function anyOf<const T extends readonly unknown[]>(...these: T): AnyOf<T[number]> {
  if (these.length === 0)
    refuse(
      'anyOf() takes the values and matchers of which one must match, and was given none.',
      anyOf,
    );
  const expected: readonly unknown[] = copyClaimed(these);
  const matcher: Matcher<never> = makeMatcher({
    family: 'anyOf',
    takesGaps: true,
    parameters: expected,
    get prints() {
      return `anyOf(${expected.map((each) => printClaimed(each)).join(', ')})`;
    },
    acceptsAbsence: expected.some((each) => matchingOf(each)?.acceptsAbsence === true),
    differences(received, context) {
      const fits = expected.map((each) => fitOf(each, received, context));
      if (fits.includes('fits')) return [];
      const undecided = fits.indexOf('undecided');
      if (undecided >= 0) return compare(expected[undecided], received, context);
      return [{ path: [], kind: 'changed', expected: matcher, received }];
    },
  });
  return matcher as unknown as AnyOf<T[number]>;
}
