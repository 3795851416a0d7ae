/** The part of Node's `process` that is used. */
interface Process {
  cwd?(): string;
}

const { process } = globalThis as { readonly process?: Process };
const { Buffer } = globalThis as { readonly Buffer?: { readonly prototype: object } };
const { parse, stringify } = JSON;
const { fromCharCode } = String;

/**
 * The platform functions that Ekkon uses and a test may replace or observe, taken when Ekkon loads, so later
 * replacements affect no record and see none of Ekkon's calls. Replacing other functions is refused (`usedByEkkon`).
 */
export const intrinsics = {
  Buffer,
  Date: globalThis.Date,
  URL: globalThis.URL,
  URLSearchParams: globalThis.URLSearchParams,
  atob: globalThis.atob,
  btoa: globalThis.btoa,
  cwd: process?.cwd?.bind(process),
  decodeURIComponent: globalThis.decodeURIComponent,
  fromCharCode,
  parse,
  stringify,
} as const;

/** The platform's functions that tell or keep time, as they are when Ekkon loads: fake timers put them back. */
export const ofTime: ReadonlySet<unknown> = new Set(
  [
    'setTimeout',
    'clearTimeout',
    'setInterval',
    'clearInterval',
    'setImmediate',
    'clearImmediate',
    'requestAnimationFrame',
    'cancelAnimationFrame',
    'requestIdleCallback',
    'cancelIdleCallback',
    'queueMicrotask',
    'Date',
    'performance',
  ].flatMap((name) => {
    const value: unknown = Object.getOwnPropertyDescriptor(globalThis, name)?.value;
    return value === undefined ? [] : [value];
  }),
);
