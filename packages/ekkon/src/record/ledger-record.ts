import type { CapturedSite } from './call-site.ts';
import type { Clock } from './clock.ts';
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
  /** Every claim judged so far. */
  readonly judged: Judged[];
  /** The claims and patterns that were written. */
  readonly written: Map<object, Written>;
  /** How many more places at which claims, patterns and plans are written may be captured. */
  writtenSitesLeft: number;
  readonly promises: Promises;
  readonly clock: Clock;
  /** The calls whose promise has not settled. */
  readonly pending: Map<HeldEntry, Pending>;
  /** Called when a pending call has settled, where somebody waits for quiet. */
  readonly whenSettled: Set<() => void>;
  /** Hears each event as it is recorded, where somebody waits for one. */
  hearing: Hearing | undefined;
  /** How to look into instances of classes that hide their state. */
  readonly reveals: readonly HeldReveal[];
  /** The calls that nothing answered. */
  readonly unplanned: { readonly member: Member; readonly entry: HeldEntry }[];
  /** What was replaced in real objects, in that order. */
  readonly slots: Slot[];
  /** The sources that are followed, in that order. */
  readonly streams: Subscription[];
  /** Ids of the entries that the test looked at by itself. */
  readonly lookedAt: Set<number>;
  /** How strict the ledger is, and the doubles that are held to something else. */
  readonly rules: RuleLevels;
  readonly ruled: { readonly double: string; readonly rules: RuleLevels }[];
  /** Claims to be judged at close. */
  readonly standing: unknown[];
  /** What waits for the record to grow, or has waited. */
  readonly waits: unknown[];
  /** What rules found that are to be noted only. */
  readonly noted: unknown[];
  /** Whether a check has thrown already. */
  failed: boolean;
  closed: boolean;
}

/** A claim that was judged, and whether it held. */
export interface Judged {
  readonly claim: { readonly notation: string };
  readonly holds: boolean;
  /** The last tick there was when it was judged. */
  readonly upTo: number;
}

/** A claim or a pattern as the test wrote it. */
export interface Written {
  readonly is: 'claim' | 'pattern';
  readonly captured: CapturedSite | undefined;
  /** Whether it was judged, or is a part of something else. */
  used: boolean;
}

/** A call whose promise has not settled. */
export interface Pending {
  /** Milliseconds on the ledger's clock. */
  readonly since: number;
  readonly on: PendingOn;
}

/** What a pending call waits for: `moment` settles by itself, `nothing` never does. */
export type PendingOn = 'moment' | 'promise' | 'real' | 'nothing';

/** A source that is followed. */
export interface Subscription {
  readonly label: string;
  /** Where it was asked for. */
  readonly captured: CapturedSite | undefined;
  /** Ends the subscription; may throw what the source throws. `undefined` where there is none, or no more. */
  release: (() => void) | undefined;
}

/** Hears the beginnings and the ends of entries, in the order of their ticks. */
export interface Hearing {
  hear(entry: HeldEntry, end: boolean): void;
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
  /** Whether that is the test's own: a function of a partial fake. */
  readonly fake: boolean;
  /** The class of the double it belongs to, or that it is itself. */
  readonly shape: Class | undefined;
  /** The stand-ins made by it, where it is a class. */
  readonly made: object[];
}

export type Level = 'allow' | 'note' | 'fail';

/** The strictness rules. */
export type RuleName =
  | 'unplannedCall'
  | 'unclaimedCall'
  | 'unusedPlan'
  | 'unfinishedCall'
  | 'uncheckedClaim'
  | 'vacuousClaim'
  | 'unawaitedReach'
  | 'nothingChecked'
  | 'changedArgument'
  | 'callAfterClose';

export type RuleLevels = { readonly [R in RuleName]: Level };

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

/** A source that is followed, as the test holds it. */
export interface FollowedStream {
  readonly is: 'stream';
  readonly record: LedgerRecord;
  readonly name: string;
  readonly member: Member;
}

/** What a test may hold in its hands: a member, a double, a stream or the ledger itself. */
export type Tied =
  | Member
  | Double
  | FollowedStream
  | { readonly is: 'ledger'; readonly record: LedgerRecord };
