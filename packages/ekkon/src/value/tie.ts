/** Leads from an object in the hands of a test to Ekkon's data about it. */
const tieKey: unique symbol = Symbol('ekkon: tie');

/**
 * Ekkon's data, by the function for a member: a proxy may return something of its own for any key, and those of
 * frameworks return proxies of all objects, but functions as they are.
 */
const known = new WeakMap<object, object>();

/** The target of a tie, as far as this folder needs to know. */
export interface TiedTo {
  /** The real function that a replacement stands for. */
  readonly real?: unknown;
}

/** Ties a function or an object to Ekkon's data about it, hidden from enumeration. */
export function tieTo(target: object, held: object): void {
  const standing = () => {};
  known.set(standing, held);
  Object.defineProperty(target, tieKey, { value: standing });
}

/** The data that a function or an object is tied to; `undefined` if no ledger made it. */
export function tiedTo(target: unknown): TiedTo | undefined {
  if ((typeof target !== 'object' && typeof target !== 'function') || target === null)
    return undefined;
  try {
    const standing = (target as { readonly [tieKey]?: object })[tieKey];
    return typeof standing === 'function' ? known.get(standing) : undefined;
  } catch {
    // A proxy that refuses to be asked is none of ours.
    return undefined;
  }
}

const reals = new WeakMap<object, unknown>();

/** Notes the real accessor that a replacement stands for. */
export function noteReal(replacement: object, real: unknown): void {
  reals.set(replacement, real);
}

/** The real function that a replacement stands for; any other value itself. */
export function realBehind<T>(value: T): T {
  if (typeof value !== 'function') return value;
  return (tiedTo(value)?.real ?? reals.get(value) ?? value) as T;
}
