import { shortValue } from '../notation/value.ts';
import type { Difference } from '../value/difference.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { asking } from '../value/quiet.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';
import { askAbout, isAskedAtOnce } from './ask.ts';
import { type Matcher, makeMatcher, type Predicate } from './matcher.ts';

/** The argument of a predicate: anything, if it cannot be inferred. */
type Asked<T> = [T] extends [never] ? unknown : T;

/**
 * Accepts the values for which a predicate returns true. The predicate receives the recorded copy. If it throws, or
 * returns anything but true or false, it is unknown whether the value matches, and a claim that depends on it does not
 * hold.
 *
 * @param description its name in reports; default the predicate's name or code
 * @throws TypeError if it is given no function
 * @example
 * call(archive.store, [suchThat((frame: Frame) => frame.seconds > 10, 'a long exposure')])
 */
export function suchThat<T>(
  holds: (value: Asked<T>) => boolean,
  description?: string,
): Predicate<Asked<T>> {
  takesOnly(2, arguments, suchThat);
  if (typeof holds !== 'function') {
    refuse(`suchThat() takes a predicate, and was given ${shortValue(holds)}.`, suchThat);
  }
  if (description !== undefined && (typeof description !== 'string' || description === '')) {
    refuse(
      `suchThat(): the description must be a string that is not empty, not ${shortValue(description)}. Write suchThat(isClear, 'a clear sky').`,
      suchThat,
    );
  }
  const matcher: Matcher<never> = makeMatcher({
    family: 'suchThat',
    asks: true,
    parameters: [holds],
    get prints() {
      return `suchThat(${intrinsics.stringify(description ?? describe(holds))})`;
    },
    fit(received) {
      if (!isAskedAtOnce(received)) return undefined;
      try {
        const answer: unknown = asking(() => holds(received as Asked<T>));
        if (answer === true) return 'fits';
        if (answer === false) return 'differs';
        ignoreRejection(answer);
      } catch {
        // `differences` gives the reason.
      }
      return 'undecided';
    },
    differences(received, context): readonly Difference[] {
      const undecided = (why: 'failed' | 'answer', reason: unknown): readonly Difference[] => [
        { path: [], kind: 'opaque', expected: matcher, received, why, reason },
      ];
      let answer: unknown;
      try {
        answer = askAbout(received, context, (value) => holds(value as Asked<T>) as unknown);
      } catch (error) {
        return undecided('failed', error);
      }
      if (answer === true) return [];
      if (answer === false) return [{ path: [], kind: 'changed', expected: matcher, received }];
      ignoreRejection(answer);
      return undecided('answer', answer);
    },
  });
  return matcher as unknown as Predicate<Asked<T>>;
}

/** A promise that a predicate returned is no answer, so its rejection is ignored. */
function ignoreRejection(answer: unknown): void {
  try {
    if (answer instanceof Promise) answer.catch(() => undefined);
  } catch {
    // A proxy whose traps throw.
  }
}

function describe(predicate: (value: never) => unknown): string {
  if (predicate.name !== '') return predicate.name;
  const code = Function.prototype.toString.call(predicate).replace(/\s+/g, ' ');
  return code.length <= 60 ? code : `${code.slice(0, 59)}…`;
}
