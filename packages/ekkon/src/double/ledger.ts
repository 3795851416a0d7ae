import type { CallPattern } from '../claim/pattern.ts';
import type { Entry } from '../record/entry.ts';
import type { Reveal } from '../record/revealed.ts';

type Method = (...args: never[]) => unknown;
type ObjectMembers<T> = { [K in keyof T as T[K] extends Method ? never : K]: T[K] };

export interface LedgerOptions {
  /** Stands in every report. */
  readonly name?: string;
  /** How many call sites to capture before going without (0: none). Default 256. */
  readonly callSites?: number;
  /** What to compare of instances that hide their state: `reveal(Gauge, (gauge) => gauge.value())`. */
  readonly reveals?: readonly Reveal[];
}

/** The ordered record of one test, and the maker of its doubles. */
export interface Ledger {
  readonly name: string;
  /**
   * Makes an object whose members appear as they are used.
   *
   * @param name how reports call it; a second one of the same name is told apart as `dome~2`
   * @throws TypeError where the name is no text
   * @example
   * const dome = ledger.standIn<Dome>('dome');
   */
  standIn<T extends object>(name: string): T;
  /**
   * Stand-ins by destructuring, each named after its key. Functions are made with `callable`.
   *
   * @example
   * const { mount, weather } = ledger.standIns<Devices>();
   */
  standIns<T extends object>(): Readonly<ObjectMembers<T>>;
  /**
   * Makes a function; `typeof` says so.
   *
   * @throws TypeError where the name is no text
   * @example
   * const done = ledger.callable<(id: string) => void>('done');
   */
  callable<F extends Method>(name: string): F;
  /**
   * What was recorded so far, in order, as plain data: all of it, or the entries that fit a pattern.
   *
   * @throws TypeError where the pattern is none of this ledger's
   * @example
   * const [first] = ledger.entries(call(mount.slewTo));
   */
  entries(): readonly Entry[];
  entries<A extends readonly unknown[], R>(pattern: CallPattern<A, R>): readonly Entry<A, R>[];
}
