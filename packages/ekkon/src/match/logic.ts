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
  type Wide,
} from './matcher.ts';

/**
 * Accepts every value but those that fit; there has to be one.
 *
 * @example
 * call(camera.expose, [partial({ filter: not('clear') })])
 */
export function not(item: unknown): Matcher<never> {
  takesOnly(1, arguments, not);
  const claimed = copyClaimed(item);
  const matcher: Matcher<never> = makeMatcher({
    family: 'not',
    takesGaps: true,
    parameters: [claimed],
    get prints() {
      return `not(${printClaimed(claimed)})`;
    },
    differences(recorded, context) {
      const fit = fitOf(claimed, recorded, context);
      if (fit === 'differs') return [];
      // What cannot be told to fit cannot be told not to.
      if (fit === 'undecided') return compare(claimed, recorded, context);
      return [{ path: [], kind: 'changed', claimed: matcher, recorded }];
    },
  });
  return matcher;
}

/**
 * Accepts what fits all of these.
 *
 * @throws TypeError if there is nothing to fit
 * @example
 * call(nightLog.write, ['frames', allOf(sized(2), allItems(partial({ seconds: 30 })))])
 */
export function allOf(...these: unknown[]): Matcher<never> {
  if (these.length === 0)
    refuse('allOf() takes what a value has to fit, and was given nothing.', allOf);
  const claimed = copyClaimed(these);
  return makeMatcher({
    family: 'allOf',
    takesGaps: true,
    parameters: claimed,
    get prints() {
      return `allOf(${claimed.map((each) => printClaimed(each)).join(', ')})`;
    },
    acceptsAbsence: claimed.every((each) => matchingOf(each)?.acceptsAbsence === true),
    differences: (recorded, context) => claimed.flatMap((each) => compare(each, recorded, context)),
  });
}

/** What may stand where any of some values or matchers may. */
type AnyOf<X> =
  X extends PartialMatcher<infer Q>
    ? PartialMatcher<Q>
    : Matcher<X extends Matcher<infer U> ? U : Wide<X>>;

/**
 * Accepts what fits any of these.
 *
 * @throws TypeError if there is nothing to fit
 * @example
 * call(camera.expose, [partial({ filter: anyOf('red', 'green', missing) })])
 */
export function anyOf<const T extends readonly unknown[]>(...these: T): AnyOf<T[number]> {
  if (these.length === 0)
    refuse('anyOf() takes what a value may fit, and was given nothing.', anyOf);
  const claimed: readonly unknown[] = copyClaimed(these);
  const matcher: Matcher<never> = makeMatcher({
    family: 'anyOf',
    takesGaps: true,
    parameters: claimed,
    get prints() {
      return `anyOf(${claimed.map((each) => printClaimed(each)).join(', ')})`;
    },
    acceptsAbsence: claimed.some((each) => matchingOf(each)?.acceptsAbsence === true),
    differences(recorded, context) {
      const fits = claimed.map((each) => fitOf(each, recorded, context));
      if (fits.includes('fits')) return [];
      const undecided = fits.indexOf('undecided');
      if (undecided >= 0) return compare(claimed[undecided], recorded, context);
      return [{ path: [], kind: 'changed', claimed: matcher, recorded }];
    },
  });
  return matcher as unknown as AnyOf<T[number]>;
}
