import { shortValue } from '../notation/value.ts';
import type { Difference } from '../value/difference.ts';
import { refuse } from '../value/refuse.ts';
import { askAbout } from './ask.ts';
import { type Matcher, makeMatcher } from './matcher.ts';

/**
 * Makes a matcher of your own. Like every matcher it can be used at any depth.
 *
 * @param make is called with the matcher's parameters each time it is written; it returns `prints`, its
 * description, and `differences`, which returns why a value does not match: none if it matches. Paths start at the
 * value. If it throws or returns anything else, it is unknown whether the value matches, and a claim that depends on it
 * does not hold.
 * @throws TypeError if `make` is not a function, or returns something else
 * @example
 * const near = defineMatcher((star: Position) => ({
 *   prints: `near ${star.ra}, ${star.dec}`,
 *   differences: (at: Position) =>
 *     Math.abs(at.ra - star.ra) < 1 ? [] : [{ path: ['ra'], kind: 'changed', expected: star.ra, received: at.ra }],
 * }));
 * call(camera.expose, [partial({ at: near({ ra: 83.6, dec: 22 }) })])
 */
export function defineMatcher<T, P extends readonly unknown[]>(
  make: (...parameters: P) => {
    readonly prints: string;
    differences(received: T): readonly Difference[];
  },
): (...parameters: P) => Matcher<T> {
  if (typeof make !== 'function') {
    refuse(`defineMatcher() takes a function, and was given ${shortValue(make)}.`, defineMatcher);
  }
  return function defined(...parameters: P): Matcher<T> {
    const parts = make(...parameters);
    if (typeof parts?.prints !== 'string' || typeof parts.differences !== 'function') {
      refuse(
        `a defined matcher returns { prints, differences }, and this one returned ${shortValue(parts)}.`,
        defined,
      );
    }
    const matcher: Matcher<T> = makeMatcher<T>({
      family: 'defined',
      asks: true,
      parameters: [make, ...parameters],
      prints: parts.prints,
      differences(received, context) {
        const undecided = (why: 'failed' | 'answer', reason: unknown) =>
          [{ path: [], kind: 'opaque', expected: matcher, received, why, reason }] as const;
        try {
          const answer: unknown = askAbout(received, context, (value) =>
            parts.differences(value as T),
          );
          return readDifferences(answer) ?? undecided('answer', answer);
        } catch (reason) {
          return undecided('failed', reason);
        }
      },
    });
    return matcher;
  };
}

const kinds: ReadonlySet<unknown> = new Set<Difference['kind']>([
  'changed',
  'missing',
  'surplus',
  'type',
  'moved',
  'renamed',
  'opaque',
]);

/** A matcher's answer, read once: nothing of it runs later. `undefined` if it is not a list of differences. */
function readDifferences(answer: unknown): readonly Difference[] | undefined {
  if (!Array.isArray(answer)) return undefined;
  const differences = answer.map((each: unknown) => {
    if (typeof each !== 'object' || each === null) return undefined;
    const read = { ...each } as Difference;
    return Array.isArray(read.path) && kinds.has(read.kind)
      ? { ...read, path: [...read.path] }
      : undefined;
  });
  return differences.includes(undefined) ? undefined : (differences as readonly Difference[]);
}
