import type { Fitting } from '../types.ts';

/** One of the platform's own types, if the program has it. */
type Platform<Name extends string> = typeof globalThis extends {
  readonly [K in Name]: { readonly prototype: infer T };
}
  ? T
  : unknown;

/** The platform's response, if the program has its type. */
export type PlatformResponse = Platform<'Response'>;

/** A function with the arguments of the platform's `fetch`. */
// biome-ignore lint/suspicious/noExplicitAny: whatever an implementation of it takes.
export type Fetch = (input: any, init?: any) => Promise<PlatformResponse>;

/** A request as it was recorded, whichever way it was made; `liveArgs` of its entry has the arguments themselves. */
export interface RequestSeen {
  /** In capitals. */
  readonly method: string;
  readonly url: string;
  /** By their names in small letters. */
  readonly headers: Readonly<Record<string, string>>;
  readonly query: Readonly<Record<string, string | readonly string[]>>;
  /** The values at the named places of the pattern's address. */
  readonly params: Readonly<Record<string, string>>;
  readonly json?: unknown;
  readonly text?: string;
  readonly form?: Readonly<Record<string, unknown>>;
}

/** The expected parts of a request besides its method and address. */
export interface RequestParts {
  /** At least these; capitals in names make no difference. */
  readonly headers?: Readonly<Record<string, Fitting<string>>>;
  /** At least these. */
  readonly query?: Readonly<Record<string, Fitting<string>>>;
  /** At least these of those that the address names: `id` in `/frames/:id`. */
  readonly params?: Readonly<Record<string, Fitting<string>>>;
  /** The whole body, as JSON. */
  readonly json?: unknown;
  /** The whole body, as a text. */
  readonly text?: Fitting<string>;
  /** The whole body, as a form: by the names of its fields. */
  readonly form?: object;
}

declare const server: unique symbol;

/** A server on loopback that is a double. */
export interface StandInServer extends AsyncDisposable {
  /** Where it listens: `http://127.0.0.1:4711`. */
  readonly url: string;
  readonly [server]: true;
}
