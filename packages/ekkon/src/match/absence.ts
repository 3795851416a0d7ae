import { type Matcher, makeMatcher, makeTest } from './matcher.ts';

/**
 * Accepts `null` and `undefined`; not that there is no value at all.
 *
 * @example
 * call(archive.label, [nullish])
 * @see missing
 */
export const nullish: Matcher<null | undefined> = makeTest(
  'nullish',
  [],
  'nullish',
  (recorded) => recorded === null || recorded === undefined,
);

/**
 * Accepts that there is no value: a property that is not there, an argument that was not passed. A
 * property that holds `undefined` is there.
 *
 * @example
 * call(camera.expose, [{ seconds: 30, filter: missing }])
 */
export const missing: Matcher<never> = makeMatcher({
  family: 'missing',
  takesGaps: true,
  parameters: [],
  prints: 'missing',
  acceptsAbsence: true,
  differences: (recorded) => [{ path: [], kind: 'surplus', recorded }],
});
