import type { Rest } from '../match/anything.ts';
import type { Matcher, PartialMatcher, Wide } from '../match/matcher.ts';

export type Method = (...args: never[]) => unknown;
export type Class = abstract new (...args: never[]) => unknown;

declare const event: unique symbol;
declare const entryOf: unique symbol;
declare const answeredWith: unique symbol;

/** Moments in a record: the beginnings or the ends of some entries. */
export interface EventPattern {
  readonly [event]: true;
}

/** A pattern whose entries `ledger.entries(p)` gives typed. */
export interface EntryPattern<out A extends readonly unknown[], out R> extends EventPattern {
  readonly [entryOf]: readonly [A, R];
}

/** What can be planned and can end: calls, constructions, reads. */
export interface CallPattern<out A extends readonly unknown[], out R> extends EntryPattern<A, R> {
  readonly [answeredWith]: R;
}

export type AnyCalls = CallPattern<readonly unknown[], unknown>;

/** What is compared whole: naming its members in a message helps nobody. */
type Opaque =
  | string
  | number
  | bigint
  | boolean
  | symbol
  | null
  | undefined
  | Date
  | RegExp
  // biome-ignore lint/suspicious/noExplicitAny: any keys and values will do here.
  | ReadonlyMap<any, any>
  // biome-ignore lint/suspicious/noExplicitAny: any items will do here.
  | ReadonlySet<any>
  // biome-ignore lint/suspicious/noExplicitAny: any value will do here.
  | Promise<any>
  | ArrayBufferView;

type DeepRequired<T> = T extends Method | Opaque
  ? T
  : T extends readonly (infer E)[]
    ? readonly DeepRequired<E>[]
    : T extends object
      ? { [K in keyof T]-?: DeepRequired<NonNullable<T[K]>> | Extract<T[K], null> }
      : T;

/** The partial matchers that may stand for a type: one for each member of a union. */
type Parts<T> = unknown extends T
  ? PartialMatcher<never>
  : T extends object
    ? T extends Method
      ? never
      : string extends keyof T
        ? PartialMatcher<never>
        : PartialMatcher<DeepRequired<T>>
    : never;

interface FittingList<E> extends ReadonlyArray<Fitting<E>> {}

/** A value as it may be claimed: itself, a matcher, or either at any depth. */
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
}
  ?
      | [A1, R1]
      | [A2, R2]
      | [A3, R3]
      | [A4, R4]
      | [A5, R5]
      | [A6, R6]
      | [A7, R7]
      | [A8, R8]
      | [A9, R9]
      | [A10, R10]
  : F extends (...a: infer A) => infer R
    ? [A, R]
    : never;

export type ArgsOf<F> = F extends Method
  ? Overloads<F>[0] extends readonly unknown[]
    ? Overloads<F>[0]
    : never
  : F extends abstract new (
        ...a: infer A
      ) => unknown
    ? A
    : never;

export type ResultOf<F> = F extends Method
  ? Overloads<F>[1]
  : F extends abstract new (
        ...a: never[]
      ) => infer R
    ? R
    : never;

export type FittingsOfEach<A> = A extends readonly unknown[] ? Fittings<A> : never;
