import { isOwn, ownPrinting, printsAs } from '../record/prints-as.ts';
import type { Difference } from './difference.ts';

declare const accepts: unique symbol;

/** Accepts some values of an argument. `never` fits every argument. */
export interface Matcher<out T> {
  readonly [accepts]: T;
}

/** Literals widened and emptiness merged: a matcher fits where the values could overlap. */
export type Wide<T> = T extends string
  ? string
  : T extends number
    ? number
    : T extends bigint
      ? bigint
      : T extends null | undefined
        ? null | undefined
        : T;

/** What is known about the recorded values beside what they hold. */
export interface Context {
  /** The object that a copy was made of; `undefined` where that is not known. */
  originalOf(copy: object): object | undefined;
  /** An instance as a copy with the ledger's reveals would hold it. */
  look(instance: object): unknown;
}

/** What a matcher is inside. */
export interface MatcherParts {
  /** Its description, such that it reads well inside a longer sentence. */
  readonly reads: string;
  /** Why it does not accept a value; nothing where it does. Paths start at the value. */
  differences(recorded: unknown, context: Context): readonly Difference[];
  /** Whether it also accepts that there is no value at all. */
  readonly acceptsAbsence?: boolean;
  /** Whether a primitive passes, for matchers that ask nothing else; it never throws. */
  readonly passes?: (recorded: unknown) => boolean;
}

interface HeldMatcher {
  readonly matching: MatcherParts;
  readonly [printsAs]: string;
}

/** Makes a matcher out of its parts. */
export function makeMatcher<T>(parts: MatcherParts): Matcher<T> {
  return makeHeld({ matching: parts }) as unknown as Matcher<T>;
}

const makeHeld = ownPrinting<Pick<HeldMatcher, 'matching'>>(({ matching }) => matching.reads);

/** What a matcher is inside; `undefined` for any other value. */
export function matchingOf(value: unknown): MatcherParts | undefined {
  return isOwn(value) ? (value as unknown as Partial<HeldMatcher>).matching : undefined;
}

/** Makes a matcher that a value either passes or not, with the whole value as the one difference. */
export function makeTest<T>(reads: string, holds: (recorded: unknown) => boolean): Matcher<T> {
  const matcher: Matcher<T> = makeMatcher<T>({
    reads,
    passes: holds,
    differences: (recorded) =>
      holds(recorded) ? [] : [{ path: [], kind: 'changed', claimed: matcher, recorded }],
  });
  return matcher;
}
