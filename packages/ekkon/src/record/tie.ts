import type { Tied } from './member.ts';

/** Leads from what a test holds in its hands to what Ekkon knows of it. */
const tieKey: unique symbol = Symbol('ekkon: tie');

/** Ties a function or an object to what Ekkon knows of it, out of sight of enumeration. */
export function tie(target: object, held: Tied): void {
  Object.defineProperty(target, tieKey, { value: held });
}

/** What a function or an object is to Ekkon; `undefined` if no ledger made it. */
export function tied(target: unknown): Tied | undefined {
  if ((typeof target !== 'object' && typeof target !== 'function') || target === null)
    return undefined;
  try {
    return (target as { readonly [tieKey]?: Tied })[tieKey];
  } catch {
    // A proxy that refuses to be asked is none of ours.
    return undefined;
  }
}
