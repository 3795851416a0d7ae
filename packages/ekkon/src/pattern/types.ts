import type { Rest } from '../match/anything.ts';
import type { Matcher, PartialMatcher, Predicate, Wide } from '../match/matcher.ts';

export type Method = (...args: never[]) => unknown;
export type Class = abstract new (...args: never[]) => unknown;

declare const event: unique symbol;
declare const entryOf: unique symbol;
declare const answeredWith: unique symbol;

/** Moments in a record: the beginnings or the ends of some entries. */
export interface EventPattern {
  readonly [event]: true;
}

/** A pattern for which `ledger.entries(pattern)` returns typed entries. */
export interface EntryPattern<out A extends readonly unknown[], out R> extends EventPattern {
  readonly [entryOf]: readonly [A, R];
}

/** Events that can be planned and can end: calls, constructions, reads. */
export interface CallPattern<out A extends readonly unknown[], out R> extends EntryPattern<A, R> {
  readonly [answeredWith]: R;
}

export type AnyCalls = CallPattern<readonly unknown[], unknown>;

/** Values that are compared whole, because they have no parts. */
type Atom =
  | string
  | number
  | bigint
  | boolean
  | symbol
  | null
  | undefined
  | Date
  | RegExp
  | Method
  // biome-ignore lint/suspicious/noExplicitAny: any keys and values will do here.
  | ReadonlyMap<any, any>
  // biome-ignore lint/suspicious/noExplicitAny: any items will do here.
  | ReadonlySet<any>
  // biome-ignore lint/suspicious/noExplicitAny: any value will do here.
  | Promise<any>
  | ArrayBufferView;

/** Some members of a type, each a value, a part of it, or a matcher. */
export type PartOf<T> = unknown extends T
  ? object
  : T extends Atom
    ? Fitting<T>
    : T extends readonly (infer E)[]
      ? readonly (PartOf<E> | Fitting<E>)[]
      : T extends object
        ? { readonly [K in keyof T]?: PartOf<T[K]> | Fitting<T[K]> | undefined }
        : Fitting<T>;

/** The predicates and the partial matchers that may stand for a type. */
type Parts<T> =
  | Predicate<T>
  | (unknown extends T ? PartialMatcher<unknown> : PartialMatcher<PartOf<T>>);

interface FittingList<E> extends ReadonlyArray<Fitting<E>> {}

/** An expected value: the value itself, or one with matchers at any depth. */
export type Fitting<T> =
  | T
  | Matcher<Wide<T>>
  | Parts<T>
  | (T extends Method
      ? never
      : T extends ReadonlyMap<infer K, infer V>
        ? ReadonlyMap<K, Fitting<V>>
        : T extends ReadonlySet<infer V>
          ? ReadonlySet<Fitting<V>>
          : T extends readonly (infer E)[]
            ? number extends T['length']
              ? FittingList<E>
              : { readonly [K in keyof T]: Fitting<T[K]> }
            : T extends object
              ? { readonly [K in keyof T]: Fitting<T[K]> }
              : never);

export type Fittings<A extends readonly unknown[]> =
  | { readonly [K in keyof A]: Fitting<A[K]> }
  | FittingsThenRest<A>;

type FittingsThenRest<A extends readonly unknown[]> =
  | readonly [Rest]
  | (A extends readonly [(infer H)?, ...infer T]
      ? number extends A['length']
        ? A extends readonly [infer H2, ...infer T2]
          ? readonly [Fitting<H2>, ...FittingsThenRest<T2>]
          : readonly [...Fitting<A[number]>[], Rest]
        : A extends readonly []
          ? never
          : readonly [Fitting<H>, ...FittingsThenRest<T>]
      : never);

/** For a function with more overloads than are considered: a type that excludes nothing. */
// biome-ignore lint/suspicious/noExplicitAny: any arguments, any result.
type Untyped = [any[], any];

/**
 * The arguments and the result of each overload, of 20 at most. With fewer, the first fills the remaining places, so
 * two different ones at the front show that there are more.
 */
type Overloads<F> = F extends {
  (...a: infer A1): infer R1;
  (...a: infer A2): infer R2;
  (...a: infer A3): infer R3;
  (...a: infer A4): infer R4;
  (...a: infer A5): infer R5;
  (...a: infer A6): infer R6;
  (...a: infer A7): infer R7;
  (...a: infer A8): infer R8;
  (...a: infer A9): infer R9;
  (...a: infer A10): infer R10;
  (...a: infer A11): infer R11;
  (...a: infer A12): infer R12;
  (...a: infer A13): infer R13;
  (...a: infer A14): infer R14;
  (...a: infer A15): infer R15;
  (...a: infer A16): infer R16;
  (...a: infer A17): infer R17;
  (...a: infer A18): infer R18;
  (...a: infer A19): infer R19;
  (...a: infer A20): infer R20;
  (...a: infer A21): infer R21;
}
  ? [A1, R1] extends [A2, R2]
    ?
        | [A2, R2]
        | [A3, R3]
        | [A4, R4]
        | [A5, R5]
        | [A6, R6]
        | [A7, R7]
        | [A8, R8]
        | [A9, R9]
        | [A10, R10]
        | [A11, R11]
        | [A12, R12]
        | [A13, R13]
        | [A14, R14]
        | [A15, R15]
        | [A16, R16]
        | [A17, R17]
        | [A18, R18]
        | [A19, R19]
        | [A20, R20]
        | [A21, R21]
    : Untyped
  : F extends (...a: infer A) => infer R
    ? [A, R]
    : never;

/** The signatures of a constructor, 8 at most. */
type Constructors<F> = F extends {
  new (...a: infer A1): infer R1;
  new (...a: infer A2): infer R2;
  new (...a: infer A3): infer R3;
  new (...a: infer A4): infer R4;
  new (...a: infer A5): infer R5;
  new (...a: infer A6): infer R6;
  new (...a: infer A7): infer R7;
  new (...a: infer A8): infer R8;
  new (...a: infer A9): infer R9;
}
  ? [A1, R1] extends [A2, R2]
    ? [A2, R2] | [A3, R3] | [A4, R4] | [A5, R5] | [A6, R6] | [A7, R7] | [A8, R8] | [A9, R9]
    : Untyped
  : F extends abstract new (
        ...a: infer A
      ) => infer R
    ? [A, R]
    : never;

/** The arguments and result of a member: of its call if it can be called, otherwise of its construction. */
type Signatures<F> = F extends Method ? Known<F, Overloads<F>> : Constructors<F>;

/** The known signatures of a function: of a generic one, how many arguments it takes. */
type Known<F, S> = [Together<S> & Pick<F, keyof F>] extends [F] ? S : Generic<S>;

/** One function with all of some signatures. */
type Together<S> = (
  S extends [infer A extends readonly unknown[], infer R]
    ? (each: (...args: A) => R) => void
    : never
) extends (all: infer F) => void
  ? F
  : never;

/**
 * The signatures of a generic function: its arguments and result depend on the call, and here they would be the upper
 * bounds of its type parameters.
 */
type Generic<S> = S extends [infer A, infer R]
  ? // biome-ignore lint/suspicious/noExplicitAny: any arguments, any result.
    [{ [K in keyof A]: any }, R extends PromiseLike<unknown> ? Promise<any> : any]
  : never;

export type ArgsOf<F> = Signatures<F>[0] extends readonly unknown[] ? Signatures<F>[0] : never;

export type ResultOf<F> = Signatures<F>[1];

export type FittingsOfEach<A> = A extends readonly unknown[] ? Fittings<A> : never;
