import type { CapturedSite } from './call-site.ts';
import type { Copies } from './copy.ts';
import type { Answer, Entry, Outcome } from './entry.ts';
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
  /** The calls that nothing answered. */
  readonly unplanned: { readonly member: Member; readonly entry: HeldEntry }[];
  /** What was replaced in real objects, in that order. */
  readonly slots: Slot[];
  /** Ids of the entries that a claim wanted, or that the test looked at. */
  readonly accounted: Set<number>;
  /** What happens at a claim that holds for no reason. */
  readonly whenVacuous: Level;
  /** Claims that held for no reason, where that is to be noted. */
  readonly vacuous: string[];
  /** Whether a check has thrown already. */
  failed: boolean;
  closed: boolean;
}

/** A place in a real object in which a replacement stands. */
export interface Slot {
  readonly member: string;
  /** Puts the place back as it was; `false` where somebody else has changed it meanwhile. */
  restore(): boolean;
}

/** An entry as the record holds it: it may still end, and its call site is read when first asked for. */
export interface HeldEntry extends Omit<Entry, 'site' | 'answer'> {
  ended: number | undefined;
  outcome: Outcome;
  /** What the arguments were copied from, where any needed a copy. */
  readonly copies: Copies;
  readonly captured: CapturedSite | undefined;
  /** The plan and the reply that answered, where one did. */
  answer: Answer | undefined;
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
  /** What answers a call that no plan fits. */
  readonly otherwise: Otherwise;
  /** What happens at a call that no plan fits and no real one answers; `fail` throws to its caller. */
  readonly whenUnplanned: Level;
  /** What it stands for, where there is such a thing. */
  readonly real: RealFunction | undefined;
  /** The class of the double it belongs to, or that it is itself. */
  readonly shape: Class | undefined;
  /** The stand-ins made by it, where it is a class. */
  readonly made: object[];
}

export type Level = 'allow' | 'note' | 'fail';

export type RealFunction = (this: unknown, ...args: unknown[]) => unknown;

/** What answers a call that no plan fits. */
export type Otherwise =
  | 'nothing'
  /** A promise that fulfils with `undefined`: an asynchronous member. */
  | 'promise'
  /** The real one. */
  | 'real'
  /** An error: the double's class has no such member. */
  | 'unknown'
  /** A stand-in for the class that was to be constructed. */
  | 'instance';

/** An object with members. */
export interface Double {
  readonly is: 'double';
  readonly record: LedgerRecord;
  readonly name: string;
  /** The stand-in itself. */
  readonly object: object;
  readonly whenUnplanned: Level;
  /** The class it stands in for. */
  readonly shape: Class | undefined;
}

export type Class = abstract new (...args: never[]) => unknown;

/** What a test may hold in its hands: a member, a double or the ledger itself. */
export type Tied = Member | Double | { readonly is: 'ledger'; readonly record: LedgerRecord };
