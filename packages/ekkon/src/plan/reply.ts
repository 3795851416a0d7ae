import { shortValue } from '../notation/value.ts';
import type { Clock } from '../record/clock.ts';
import type { Outcome } from '../record/entry.ts';
import { isOwn, makeOwn, printsAs } from '../value/prints-as.ts';
import { readOptions } from '../value/read-options.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';
import type { HeldDeferred } from './deferred.ts';

type Method = (...args: never[]) => unknown;

declare const replyOfType: unique symbol;
declare const usesArguments: unique symbol;

/** One reply; `R` is a type that the member's result must accept. */
export interface Reply<out R, A extends readonly unknown[] = readonly unknown[]> {
  /** Its result; for the types only. */
  readonly [replyOfType]?: R;
  /** The arguments that it can handle; for the types only. */
  [usesArguments]?(...args: A): void;
}

/** A literal as a mutable type would hold it. */
export type Plain<T> = T extends Method
  ? T
  : T extends object
    ? T & { -readonly [K in keyof T]: Plain<T[K]> }
    : T;

/** A planned response. */
export interface ResponseParts {
  readonly status: number;
  readonly headers: readonly (readonly [name: string, value: string])[];
  /** The body; `undefined` if there is none. */
  readonly body: string | undefined;
  /** Makes the parts of a body that comes in parts. */
  readonly parts:
    | (() => AsyncIterable<string | Uint8Array> | Iterable<string | Uint8Array>)
    | undefined;
  /** Milliseconds until it is answered. */
  readonly delay: number;
}

/** The inside of a reply. */
export type HeldReply = { readonly [printsAs]: string } & (
  | { readonly kind: 'gives'; readonly value: unknown }
  | { readonly kind: 'throws'; readonly reason: unknown }
  | { readonly kind: 'fulfils'; readonly value: unknown }
  | { readonly kind: 'rejects'; readonly reason: unknown }
  | { readonly kind: 'passesThrough' }
  | {
      readonly kind: 'callsBack';
      readonly args: readonly unknown[];
      /** Which argument is called, from 0; `undefined`: the only function among them. */
      readonly argument: number | undefined;
      /** Whether it is called in a turn of its own. */
      readonly later: boolean;
      /** The result of the call itself. */
      readonly gives: unknown;
    }
  | { readonly kind: 'stalls'; readonly untilAborted: boolean }
  | HeldDeferred
  | {
      readonly kind: 'replays';
      readonly next: (label: string, args: readonly unknown[]) => Outcome | undefined;
    }
  | {
      readonly kind: 'responds';
      /** Takes the arguments of the call and the ledger's clock. */
      readonly run: (args: readonly unknown[], clock: Clock) => Promise<unknown>;
      /** The answer, for callers that send it themselves. */
      readonly response: ResponseParts;
    }
  | { readonly kind: 'computes'; readonly run: (this: unknown, ...args: unknown[]) => unknown }
);

/**
 * Replies with a value.
 *
 * @example
 * plan(call(weather.rain), gives(0), gives(0.4)); // 0 first, then 0.4 for good
 */
export function gives<const R>(value: R): Reply<Plain<R>> {
  takesOnly(1, arguments, gives);
  return makeReply({ kind: 'gives', value, [printsAs]: `gives ${shortValue(value)}` });
}

/**
 * Replies by throwing.
 *
 * @example
 * plan(call(dome.open), throws(new Error('jammed')));
 */
export function throws(error: unknown): Reply<never> {
  takesOnly(1, arguments, throws);
  return makeReply({ kind: 'throws', reason: error, [printsAs]: `throws ${shortValue(error)}` });
}

/**
 * Replies with a promise that fulfils with the value. The call is pending until that promise settles.
 *
 * @throws TypeError if the value is a promise itself
 * @example
 * plan(call(camera.expose), fulfils({ id: 'frame-1', seconds: 30 }));
 */
export function fulfils<const T>(value: T): Reply<Promise<Plain<T>>> {
  takesOnly(1, arguments, fulfils);
  if (value instanceof Promise) {
    refuse(
      'fulfils() takes the value itself, and was given a promise. Write gives(promise) to reply with it.',
      fulfils,
    );
  }
  return makeReply({ kind: 'fulfils', value, [printsAs]: `fulfils ${shortValue(value)}` });
}

/**
 * Replies with a promise that rejects. If the code under test does not handle it, the platform reports an unhandled
 * rejection as usual.
 *
 * @example
 * plan(call(mount.slewTo), rejects(new Error('wind')));
 */
export function rejects(reason: unknown): Reply<Promise<never>> {
  takesOnly(1, arguments, rejects);
  return makeReply({ kind: 'rejects', reason, [printsAs]: `rejects ${shortValue(reason)}` });
}

/**
 * Replies with the result of a function of the arguments. It runs with the call's own `this`, and its error goes to
 * the caller.
 *
 * @throws TypeError if it is given no function
 * @example
 * plan(call(archive.store), computes(async (frame: Frame) => `stored/${frame.id}`));
 */
export function computes<A extends readonly unknown[], R>(
  // biome-ignore lint/suspicious/noExplicitAny: only `any` leaves the function's own `this` unconstrained.
  run: (this: any, ...args: A) => R,
): Reply<R, A> {
  takesOnly(1, arguments, computes);
  if (typeof run !== 'function') {
    refuse(
      `computes() takes a function, and was given ${shortValue(run)}. Write gives(value) for a fixed value.`,
      computes,
    );
  }
  return makeReply({
    kind: 'computes',
    run: run as unknown as (this: unknown, ...args: unknown[]) => unknown,
    [printsAs]: 'computes',
  });
}

/**
 * Lets the real member answer: that of an object that is observed or taken over, or the function of a partial fake.
 *
 * @example
 * const siren = { sound: (seconds: number) => seconds };
 * ledger.takeOver(siren, 'sound');
 * plan(call(siren.sound, [2]), passesThrough());
 */
export function passesThrough(): Reply<never> {
  takesOnly(0, arguments, passesThrough);
  return makeReply({ kind: 'passesThrough', [printsAs]: 'passesThrough' });
}

/** How a reply calls back. */
export interface CallBackOptions {
  /** The callback's place among the arguments, from 0. Default: the only function among them. */
  readonly argument?: number;
  /** Whether it is called in a turn of its own, after the call has returned. Default: before it returns. */
  readonly later?: boolean;
  /** The result of the call itself. Default: `undefined`. */
  readonly gives?: unknown;
}

/**
 * Replies by calling back: it calls the only function among the arguments, or argument number `argument`, with the
 * given values. If there is none, the caller gets an error that lists the arguments.
 *
 * @param args the arguments of the callback
 * @throws TypeError if the values are not a list, or if an option is invalid
 * @example
 * const guide = ledger.standIn<{ measure(done: (error: Error | undefined, drift?: number) => void): void }>('guide');
 * plan(call(guide.measure), callsBack([undefined, 1.5]), callsBack([new Error('no star')], { later: true }));
 */
export function callsBack(
  args: readonly unknown[],
  options?: { readonly argument?: number; readonly later?: boolean },
): Reply<undefined>;
export function callsBack<const R>(
  args: readonly unknown[],
  options: { readonly argument?: number; readonly later?: boolean; readonly gives: R },
): Reply<Plain<R>>;
export function callsBack(args: readonly unknown[], options: CallBackOptions = {}): Reply<unknown> {
  takesOnly(2, arguments, callsBack);
  if (!Array.isArray(args)) {
    refuse(
      `callsBack() takes the values to call back with as a list, and was given ${shortValue(args)}. Write callsBack([${shortValue(args)}]).`,
      callsBack,
    );
  }
  readOptions(options, ['argument', 'later', 'gives'], callsBack);
  const { argument, later = false, gives: value } = options;
  if (argument !== undefined && (!Number.isSafeInteger(argument) || argument < 0)) {
    refuse(
      `callsBack(): argument must be a whole number of 0 or more, not ${shortValue(argument)}.`,
      callsBack,
    );
  }
  if (typeof later !== 'boolean') {
    refuse(`callsBack(): later must be true or false, not ${shortValue(later)}.`, callsBack);
  }
  const said = args.map((each) => shortValue(each)).join(', ');
  const where = argument === undefined ? '' : ` argument ${argument}`;
  const parts = { kind: 'callsBack', args: [...args], argument, later, gives: value } as const;
  return makeReply({ ...parts, [printsAs]: `callsBack${where} [${said}]` });
}

/**
 * Replies with a promise that never settles.
 *
 * @param options `untilAborted`: the promise rejects with the signal's reason once an `AbortSignal` among the arguments
 * is aborted, whether it is an argument itself or the `signal` of an options object. Without a signal it never settles
 * @example
 * plan(call(mount.slewTo), stalls());
 * const fetch = ledger.callable<(url: string, options: { signal: AbortSignal }) => Promise<string>>('fetch');
 * plan(call(fetch), stalls({ untilAborted: true }));
 */
export function stalls(options: { readonly untilAborted?: boolean } = {}): Reply<Promise<never>> {
  readOptions(options, ['untilAborted'], stalls);
  const { untilAborted = false } = options;
  if (typeof untilAborted !== 'boolean')
    refuse(
      `stalls: untilAborted must be true or false, not ${shortValue(untilAborted)}. Write stalls({ untilAborted: true }).`,
      stalls,
    );
  const prints = untilAborted ? 'stalls until aborted' : 'stalls';
  return makeReply({ kind: 'stalls', untilAborted, [printsAs]: prints });
}

export function makeReply<R, A extends readonly unknown[]>(parts: HeldReply): Reply<R, A> {
  return makeOwn(parts) as unknown as Reply<R, A>;
}

/** Every kind; one that is left out does not compile. */
const kinds: { readonly [K in HeldReply['kind']]: true } = {
  gives: true,
  throws: true,
  fulfils: true,
  rejects: true,
  computes: true,
  passesThrough: true,
  callsBack: true,
  stalls: true,
  deferred: true,
  replays: true,
  responds: true,
};

/** The reply behind its public type; `undefined` if the value is none. */
export function replyOf(value: unknown): HeldReply | undefined {
  return isOwn(value) && 'kind' in value && Object.hasOwn(kinds, String(value.kind))
    ? (value as unknown as HeldReply)
    : undefined;
}
