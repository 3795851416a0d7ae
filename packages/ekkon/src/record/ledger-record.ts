import type { CapturedSite } from './call-site.ts';
import type { Copies } from './copy.ts';
import type { Entry, Outcome } from './entry.ts';
import type { HeldReveal } from './revealed.ts';
import type { Promises } from './settle.ts';

/** The ordered, append-only record of one ledger. */
export interface LedgerRecord {
  readonly name: string;
  readonly entries: HeldEntry[];
  /** The last tick given: every beginning and every end takes one. */
  tick: number;
  /** The id of the entry whose call is running now. */
  running: number | undefined;
  /** How many call sites may still be captured. */
  sitesLeft: number;
  /** How often each name was given to a double. */
  readonly names: Map<string, number>;
  /** Every member used so far, in the order of first use. */
  readonly members: Member[];
  /** Every claim judged so far, as written, and whether it held. */
  readonly judged: { readonly notation: string; readonly holds: boolean }[];
  readonly promises: Promises;
  /** How to look into instances of classes that hide their state. */
  readonly reveals: readonly HeldReveal[];
}

/** An entry as the record holds it: it may still end, and its call site is read when first asked for. */
export interface HeldEntry extends Omit<Entry, 'site'> {
  ended: number | undefined;
  outcome: Outcome;
  /** What the arguments were copied from, where any needed a copy. */
  readonly copies: Copies;
  readonly captured: CapturedSite | undefined;
}

/** A member of a double: what patterns speak of, and what plans answer for. */
export interface Member<Plan = unknown> {
  readonly is: 'member';
  readonly record: LedgerRecord;
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
  readonly record: LedgerRecord;
  readonly name: string;
  /** The stand-in itself. */
  readonly object: object;
}

/** What a test may hold in its hands: a member, a double or the ledger itself. */
export type Tied = Member | Double | { readonly is: 'ledger'; readonly record: LedgerRecord };
