import type { Fit } from '../value/comparison.ts';
import type { Difference } from '../value/difference.ts';
import { isVeiled } from '../value/kind.ts';
import { isOwn, makeOwn, ownPrinting, printsAs } from '../value/prints-as.ts';

declare const accepts: unique symbol;

/** Accepts some values of an argument. A `Matcher<never>` can stand for every argument. */
export interface Matcher<out T> {
  readonly [accepts]: T;
}

declare const part: unique symbol;

/** Accepts any value with at least the members of `P`. */
export interface PartialMatcher<out P> {
  /** The part, for the types alone. */
  readonly [part]: P;
}

declare const asked: unique symbol;

/** A predicate: it can stand wherever its parameter accepts the value. */
export interface Predicate<in T> {
  /** The predicate, for the types alone. */
  readonly [asked]: (value: T) => void;
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

/** Known about the received values besides their content. */
export interface Context {
  /** The object that a copy was made of; `undefined` if that is not known. */
  originalOf(copy: object): object | undefined;
  /** An instance as a copy with the ledger's reveals would hold it. */
  look(instance: object): unknown;
}

/** The inside of a matcher. */
export interface MatcherParts {
  /** Identifies equal matchers: the function that made them, and its arguments. */
  readonly family: string;
  readonly parameters: readonly unknown[];
  /** Its description, such that it prints well inside a longer sentence. */
  readonly prints: string;
  /** Why it does not accept a value; nothing if it does. Paths start at the value. */
  differences(received: unknown, context: Context): readonly Difference[];
  /** Whether it also accepts that there is no value at all. */
  readonly acceptsAbsence?: boolean;
  /** Whether it can tell what to say of a place where nothing could be received. */
  readonly takesGaps?: boolean;
  /** Whether it reads the content of collections and dates, so it cannot judge a proxy of one. */
  readonly looksInside?: boolean;
  /** Whether it runs somebody's code, which may answer otherwise the next time. */
  readonly asks?: boolean;
  /** Whether a primitive passes, for matchers that ask nothing else; it never throws. */
  readonly passes?: (received: unknown) => boolean;
  /** Whether it accepts a value, for matchers that can tell that sooner than why not; `undefined` if it cannot of this one. */
  readonly fit?: (received: unknown) => Fit | undefined;
}

interface HeldMatcher {
  readonly matching: MatcherParts;
  readonly [printsAs]: string;
}

/** Stands for a value that equals only itself, although another could look equal. */
export interface Reference {
  readonly reference: unknown;
  readonly [printsAs]: string;
}

/** Holds a value for `parameters` by reference, and not by content. */
export function makeReference(reference: unknown): Reference {
  return makeOwn({ reference, [printsAs]: 'reference' });
}

/** Whether a value stands for another one by reference. */
export function isReference(value: unknown): value is Reference {
  return isOwn(value) && 'reference' in value;
}

/** Makes a matcher out of its parts. */
export function makeMatcher<T>(parts: MatcherParts): Matcher<T> {
  return makeHeld({ matching: parts }) as unknown as Matcher<T>;
}

const makeHeld = ownPrinting<Pick<HeldMatcher, 'matching'>>(({ matching }) => matching.prints);

/** The inside of a matcher; `undefined` for any other value. */
export function matchingOf(value: unknown): MatcherParts | undefined {
  return isOwn(value) ? (value as unknown as Partial<HeldMatcher>).matching : undefined;
}

/**
 * Makes a matcher that a value either passes or not, with the whole value as the one difference.
 *
 * @param family the function that makes it, and `parameters` its arguments
 */
export function makeTest<T>(
  family: string,
  parameters: readonly unknown[],
  prints: string,
  holds: (received: unknown) => boolean,
  { looksInside = false }: Pick<MatcherParts, 'looksInside'> = {},
): Matcher<T> {
  const matcher: Matcher<T> = makeMatcher<T>({
    family,
    parameters,
    prints,
    passes: holds,
    looksInside,
    fit(received) {
      if (looksInside && isVeiled(received)) return undefined;
      return holds(received) ? 'fits' : 'differs';
    },
    differences: (received) =>
      holds(received) ? [] : [{ path: [], kind: 'changed', expected: matcher, received }],
  });
  return matcher;
}
