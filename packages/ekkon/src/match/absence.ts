import { type Matcher, makeMatcher, makeTest } from './matcher.ts';

/**
 * Accepts `null` and `undefined`, but not a missing property or argument.
 *
 * @example
 * call(nightLog.write, ['dome closed', nullish])
 * @see missing
 */
export const nullish: Matcher<null | undefined> = makeTest(
  'nullish',
  [],
  'nullish',
  (received) => received === null || received === undefined,
);

/**
 * Accepts a property that is missing, or an argument that was not passed. A property that holds `undefined` is not
 * missing.
 *
 * @example
 * const guider = ledger.standIn<{ start(options: { seconds: number; filter?: string }): void }>('guider');
 * call(guider.start, [{ seconds: 30, filter: missing }])
 */
export const missing: Matcher<never> = makeMatcher({
  family: 'missing',
  takesGaps: true,
  parameters: [],
  prints: 'missing',
  acceptsAbsence: true,
  differences: (received) => [{ path: [], kind: 'surplus', received }],
});
