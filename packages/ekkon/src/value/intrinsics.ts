/** The part of Node's `process` that is used. */
interface Process {
  cwd?(): string;
}

const { process } = globalThis as { readonly process?: Process };
const { Buffer } = globalThis as { readonly Buffer?: { readonly prototype: object } };
const { parse, stringify } = JSON;
const { fromCharCode } = String;

/**
 * What Ekkon uses of the platform that a test may replace or observe, taken when Ekkon is loaded: what is put in its
 * place later has no say in what is recorded, and hears nothing of it. The others are refused (`usedByEkkon`).
 */
export const intrinsics = {
  AbortController: globalThis.AbortController,
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
