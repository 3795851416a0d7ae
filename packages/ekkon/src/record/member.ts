import type { Record } from './record.ts';

/** A member of a double: what patterns speak of, and what plans answer for. */
export interface Member<Plan = unknown> {
  readonly is: 'member';
  readonly record: Record;
  /** `dome.open`; a callable's own name. */
  readonly label: string;
  /** The name of the double it belongs to. */
  readonly double: string;
  /** Oldest first. */
  readonly plans: Plan[];
}

/** An object with members. */
export interface Double {
  readonly is: 'double';
  readonly record: Record;
  readonly name: string;
  /** The stand-in itself. */
  readonly object: object;
}

/** What a test may hold in its hands: a member, a double or the ledger itself. */
export type Tied = Member | Double | { readonly is: 'ledger'; readonly record: Record };

/** Leads from what a test holds in its hands to what Ekkon knows of it. */
const tieKey: unique symbol = Symbol('ekkon: tie');

/** Ties a function or an object to what Ekkon knows of it, out of sight of enumeration. */
export function tie(target: object, held: Tied): void {
  Object.defineProperty(target, tieKey, { value: held });
}

/** What a function or an object is to Ekkon; `undefined` where no ledger made it. */
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
