import { shortValue } from '../notation/value.ts';
import { refuse } from '../record/refuse.ts';
import { type Matcher, makeMatcher } from './matcher.ts';

/**
 * Accepts the values that pass a predicate. It is given the recorded copy. Where it throws, or gives a
 * promise, it cannot be told whether the value fits, and the claim does not hold.
 *
 * @param description how reports call it; default the predicate's name or code
 * @throws TypeError where it is given no function
 * @example
 * call(archive.store, [suchThat((frame: Frame) => frame.seconds > 10, 'a long exposure')])
 */
export function suchThat<T>(holds: (value: T) => boolean, description?: string): Matcher<T> {
  if (typeof holds !== 'function') {
    refuse(`suchThat() takes a predicate, and was given ${shortValue(holds)}.`, suchThat);
  }
  const reads = `suchThat(${JSON.stringify(description ?? describe(holds))})`;
  const matcher: Matcher<T> = makeMatcher<T>({
    reads,
    differences(recorded) {
      const undecided = (reason: unknown) =>
        [{ path: [], kind: 'opaque', claimed: matcher, recorded, why: 'failed', reason }] as const;
      let answer: unknown;
      try {
        answer = holds(recorded as T);
      } catch (error) {
        return undecided(error);
      }
      if (answer instanceof Promise) {
        // Whatever comes of it, it is too late; that it may reject is no news to anybody.
        answer.catch(() => undefined);
        return undecided(answer);
      }
      return answer ? [] : [{ path: [], kind: 'changed', claimed: matcher, recorded }];
    },
  });
  return matcher;
}

function describe(predicate: (value: never) => unknown): string {
  if (predicate.name !== '') return predicate.name;
  const code = Function.prototype.toString.call(predicate).replace(/\s+/g, ' ');
  return code.length <= 60 ? code : `${code.slice(0, 59)}…`;
}
