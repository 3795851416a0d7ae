import { makeOwn, printsAs } from '../value/prints-as.ts';
import { type Matcher, makeMatcher } from './matcher.ts';

declare const rest: unique symbol;

/** Stands for any further arguments, at the end of a expected list. */
export interface Rest {
  readonly [rest]: true;
}

/**
 * Accepts every value there is, `null` and `undefined` included; not that there is none.
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
 * Accepts any further arguments, none included. It stands last in a list of arguments.
 *
 * @example
 * call(nightLog.write, ['night', anyRest])
 */
export const anyRest: Rest = makeOwn({ [printsAs]: 'anyRest' }) as unknown as Rest;
