import { makeOwn, printsAs } from '../value/prints-as.ts';
import { type Matcher, makeMatcher } from './matcher.ts';

declare const rest: unique symbol;

/** Any further arguments, at the end of an expected list. */
export interface Rest {
  readonly [rest]: true;
}

/**
 * Accepts every value, including `null` and `undefined`, but not a missing one.
 *
 * @example
 * call(mount.slewTo, [83.6, anything])
 */
export const anything: Matcher<never> = makeMatcher({
  family: 'anything',
  takesGaps: true,
  parameters: [],
  prints: 'anything',
  fit: () => 'fits',
  differences: () => [],
});

/**
 * Accepts any further arguments, or none. It must be the last item of a list of arguments.
 *
 * @example
 * call(nightLog.write, ['night', anyRest])
 */
export const anyRest: Rest = makeOwn({ [printsAs]: 'anyRest' }) as unknown as Rest;
