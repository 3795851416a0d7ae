import type {
  EmitterLike,
  EventTargetLike,
  ReadableStreamLike,
  Subscribable,
  SubscribableByCallback,
} from '../observe/source.ts';
import type { Stream } from '../pattern/streams.ts';
import type { EntryPattern, Method } from '../pattern/types.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Clock } from '../record/clock.ts';
import type { Entry } from '../record/entry.ts';
import type { Mark } from '../record/mark.ts';
import type { Rules } from '../rule/rules.ts';
import type { Reveal } from '../value/revealed.ts';
import type { LastPassStore } from './last-pass.ts';

type Class = abstract new (...args: never[]) => unknown;
/** Functions that have no members of their own are not doubles to be named by destructuring. */
type ObjectMembers<T> = {
  [K in keyof T as T[K] extends Class
    ? never
    : T[K] extends Method
      ? keyof T[K] extends never
        ? never
        : K
      : K]: T[K];
};
/** A class, also one with a private constructor. */
// biome-ignore lint/complexity/noBannedTypes: a private constructor has no type that could be named.
type ShapeOf = Function & { readonly prototype: object };

/** How a ledger is opened. */
export interface LedgerOptions {
  /** The name in every report. */
  readonly name?: string;
  /**
   * How strict the ledger is: a ready-made set, or single rules. Default: the set that the environment variable
   * `EKKON_RULES` names for the whole project, else `usual`.
   */
  readonly rules?: Rules;
  /** How many call sites to capture; later calls have none (0: none at all). Default 256. */
  readonly callSites?: number;
  /**
   * A folder, or a store, for the record of this test's last passing run: a run that fails says what changed since. For
   * the fixtures of `ekkon/vitest` and `ekkon/node` and for `withLedger`, which know whether the test passed.
   */
  readonly lastPass?: string | LastPassStore;
  /** The clock of waits: the milliseconds now, and a call after some. Default: the real clock, even if time is faked. */
  readonly clock?: Clock;
  /** What to compare of instances that hide their state: `reveal(Gauge, (gauge) => gauge.value())`. */
  readonly reveals?: readonly Reveal[];
}

/** How one double differs from the defaults of its ledger. */
export interface DoubleOptions {
  /** Rules for this double, on top of the ledger's. */
  readonly rules?: Rules;
}

/** The options of a stand-in, besides its rules. */
export interface StandInOptions<T> extends DoubleOptions {
  /** The members it has, and no others. Default: every member that is used. */
  readonly members?: readonly (keyof T)[];
  /** Members whose names look like probes of frameworks but are real: `['$get']`. */
  readonly also?: readonly (keyof T)[];
}

/** The options of a callable, besides its rules. */
export interface CallableOptions<F> extends DoubleOptions {
  /** The members that the function has: `['raw']`. Default: none. */
  readonly members?: readonly (string & keyof F)[];
}

/** Options for recording a member of a real object. */
export interface TargetOptions extends DoubleOptions {
  /** The name of the object in labels: `quayClient` makes `quayClient.get`. Default: after its class. */
  readonly name?: string;
}

/** The ordered record of one test, and the maker of its doubles. */
export interface Ledger extends Disposable {
  readonly name: string;
  /**
   * Makes a stand-in. Use it for an object that you hand to the code under test. Its members appear as they are used; with a
   * class as its shape, `instanceof` holds and calling a method that the class lacks throws; with a partial fake, the fake's
   * functions run and are recorded. For several at once use `standIns`, for a function `callable`, for a class
   * `constructible`.
   *
   * @param name how reports call it; a second one of the same name is told apart as `dome~2`
   * @throws TypeError if the name is not a string, or the shape neither a class nor an object
   * @example
   * const dome = ledger.standIn<Dome>('dome');
   * const cover = ledger.standIn('cover', CoverMotor);
   * const focuser = ledger.standIn<{ position: number; moving(): boolean }>('focuser', { position: 1200, moving: () => false });
   */
  standIn<T extends object>(name: string): T;
  /** Makes a stand-in of a class: `instanceof` holds, and calling a method that the class lacks throws. */
  standIn<C extends ShapeOf>(
    name: string,
    shape: C,
    options?: StandInOptions<C['prototype']>,
  ): C['prototype'];
  /** Makes a stand-in on top of a partial fake, whose functions run and are recorded. */
  standIn<T extends object>(
    name: string,
    fake: Partial<T> | undefined,
    options?: StandInOptions<T>,
  ): T;
  /**
   * Makes several stand-ins by destructuring, each named after its key. For a function use `callable`.
   *
   * @example
   * const { mount, weather } = ledger.standIns<Devices>();
   */
  standIns<T extends object>(options?: DoubleOptions): Readonly<ObjectMembers<T>>;
  /**
   * Makes a plain function. Use it for a callback or a function that you hand in. It has the members that `members` names and
   * no others, since frameworks probe functions, too.
   *
   * @throws TypeError if the name is not a string
   * @example
   * const done = ledger.callable<(id: string) => void>('done');
   * const query = ledger.callable<{ (table: string): number; raw(sql: string): string }>('query', { members: ['raw'] });
   * done('frame-1');
   * query.raw('select 1');
   * check(once(call(done)), once(call(query.raw)));
   */
  callable<F extends Method>(name: string, options?: CallableOptions<F>): F;
  /**
   * Puts a value at a property until the ledger is closed. Use it for a global or a variable of the environment, present or
   * not. An accessor there is replaced and put back. To record a member that exists, use `observe` or `takeOver`.
   *
   * @returns the value
   * @throws TypeError if nothing can be put there
   * @example
   * const geolocation = ledger.place(globalThis, 'geolocation', ledger.standIn<{ watch(): void }>('geolocation'));
   * geolocation.watch();
   * check(once(call(geolocation.watch)));
   */
  place<V>(target: object, key: PropertyKey, value: V): V;
  /**
   * Makes a class. Use it for a class that the code under test constructs itself and that you pass in. `new` is
   * required and recorded, and makes stand-ins (of `shape`, if given) or planned instances. Subclasses keep their
   * methods. For a class that the code imports, use `takeOver` on the module.
   *
   * @throws TypeError if the name is not a string, or the shape not a class
   * @example
   * const Cover = ledger.constructible('Cover', CoverMotor);
   * const prepared = ledger.standIn('prepared', CoverMotor);
   * plan(call(Cover, ['usb']), gives(prepared));
   * @see instances
   */
  constructible<C extends Class>(name: string, shape?: C, options?: DoubleOptions): C;
  /**
   * Records a member of a real object in place. Use it if the real one has to run. A function or a class is recorded
   * when it is called or constructed, a property when it is read or written. Closing the ledger restores the member.
   * If the real one must not run, use `takeOver`.
   *
   * @returns the member that stands there now
   * @throws TypeError if there is no such member, if it cannot be replaced, or if another live ledger has it
   * @example
   * const siren = { sound: (seconds: number) => seconds };
   * ledger.observe(siren, 'sound');
   * siren.sound(2); // sounds, and is recorded
   */
  observe<T extends object, K extends keyof T>(target: T, key: K, options?: TargetOptions): T[K];
  /**
   * Replaces a member of a real object in place. Use it if the real one must not run: plans answer. Closing the
   * ledger restores the member. With `{ absent: true }` the member need not exist; it is removed again at close.
   *
   * @typeParam F the type of the absent member
   * @throws TypeError if there is no such member, if it cannot be replaced, or if another live ledger has it
   *
   * @example
   * const siren = { sound: (seconds: number) => seconds };
   * ledger.takeOver(siren, 'sound');
   * const define = ledger.takeOver(globalThis, 'defineDevice', { absent: true });
   */
  takeOver<F extends (...args: never[]) => unknown = (...args: unknown[]) => unknown>(
    target: object,
    key: PropertyKey,
    options: TargetOptions & { readonly absent: true },
  ): F;
  /** Replaces a member that is there. */
  takeOver<T extends object, K extends keyof T>(target: T, key: K, options?: TargetOptions): T[K];
  /** `observe` for a member that the types hide, such as a `private` one. Returns it, so patterns can use it. */
  observeHidden(
    target: object,
    key: PropertyKey,
    options?: TargetOptions,
  ): (...args: unknown[]) => unknown;
  /** `takeOver` for a member that the types hide. */
  takeOverHidden(
    target: object,
    key: PropertyKey,
    options?: TargetOptions,
  ): (...args: unknown[]) => unknown;
  /**
   * Records the items, the end and the failure of a source, until the ledger is closed. This reads an async iterable
   * or a stream to its end. If the code under test reads it as well, follow the first branch of `stream.tee()`, which
   * receives each item first, and pass it the second.
   *
   * @param source an async iterable, a `ReadableStream`, an object with `subscribe`, an event target or emitter (with
   * `{ event }`), or a function that takes `emit` and returns a function that stops it
   * @param name its name in reports
   * @throws TypeError if the source is none of these, or if the ledger is closed
   * @example
   * import { Readable } from 'node:stream';
   *
   * const rain = ledger.follow(Readable.from([0, 0.4]), 'rain');
   * await reach(once(item(rain, about(0.4))));
   * const stops = ledger.follow(new EventTarget(), 'stops', { event: 'stop' });
   */
  follow<T>(
    source:
      | AsyncIterable<T>
      | ReadableStreamLike<T>
      | Subscribable<T>
      | SubscribableByCallback<T>
      | ((emit: (value: T) => void) => () => void),
    name: string,
  ): Stream<T>;
  /** Records one event of an event target or an emitter. */
  follow<T = unknown>(
    source: EventTargetLike | EmitterLike,
    name: string,
    on: { readonly event: string },
  ): Stream<T>;
  /**
   * The record so far, in order, as plain data: all of it, or the entries that certainly match a pattern.
   *
   * @throws TypeError if the pattern is not one of this ledger's, or if it is unknown whether an entry matches
   * @example
   * const [first] = ledger.entries(call(mount.slewTo));
   */
  entries(): readonly Entry[];
  /** The entries that certainly match a pattern, with typed arguments and outcome; reading them covers them. */
  entries<A extends readonly unknown[], R>(pattern: EntryPattern<A, R>): readonly Entry<A, R>[];
  /**
   * Marks this moment, so `during` can use it as the beginning or the end of a stretch.
   *
   * @example
   * const armed = ledger.mark('armed');
   * check(during({ from: armed }, never(call(dome.open))));
   */
  mark(label?: string): Mark;
  /**
   * Claims to be judged when the ledger is closed.
   *
   * @throws TypeError if one of them is not a claim on this ledger, or if the ledger is closed
   * @example
   * ledger.atClose(once(call(dome.close)), never(call(alarm.sound)));
   */
  atClose(...claims: Claim[]): void;
  /**
   * Waits until no call is pending, except calls that were planned to stall and the calls that these led to.
   *
   * @param options `within`: how long to wait, in milliseconds (default 1000)
   * @returns a promise that rejects with a `ClaimError` if it does not become quiet, which names the pending calls,
   * and for how long they have been pending
   * @example
   * void night.run(targets);
   * await ledger.untilQuiet();
   */
  untilQuiet(options?: { readonly within?: number }): Promise<void>;
  /**
   * Ends the test's use of the ledger: ends streams and waits, restores every member, the last one first, judges
   * standing claims (counted plans, claims at close, reached claims with an upper bound), and applies the rules.
   * `using` calls it. A second call does nothing. If a check has thrown already, its own findings are not thrown on
   * top of that.
   *
   * @throws ClaimError if there is a finding
   */
  close(): void;
}
