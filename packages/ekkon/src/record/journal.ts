import { type CapturedSite, captureSite } from './call-site.ts';
import type { Clock } from './clock.ts';
import { type Copies, copyList, copyOf, holdsLeaves } from './copy.ts';
import type { Answer, EntryKind, Outcome } from './entry.ts';
import type { HeldMark } from './mark.ts';
import type { HeldReveal } from './revealed.ts';
import { followPromises, type Promises } from './settle.ts';
import { newSlip, type Slip } from './slip.ts';
import { noTargets, type Target, type Targets } from './target.ts';

/** The ordered, append-only record of one ledger, and the slip of what was written on it. */
export interface Journal {
  readonly name: string;
  readonly entries: HeldEntry[];
  /** What happened at each tick, from tick 1: an entry's beginning, its end, or a mark. */
  readonly events: (HeldEntry | HeldMark)[];
  readonly targets: Targets;
  readonly slip: Slip;
  /** The id of the entry whose call is running now. */
  running: number | undefined;
  /** How many call sites may still be captured. */
  sitesLeft: number;
  readonly promises: Promises;
  readonly clock: Clock;
  /** The calls whose promise has not settled. */
  readonly pending: Map<HeldEntry, Pending>;
  /** Hears each event as it is recorded, if somebody waits for one. */
  hearing: Hearing | undefined;
  /** How to look into instances of classes that hide their state. */
  readonly reveals: readonly HeldReveal[];
  /** What happens at an event that comes after the ledger was closed; may throw to its caller. */
  late: ((entry: HeldEntry) => void) | undefined;
  closed: boolean;
}

/** An entry as the journal holds it: it may still end, and its call site is read when first asked for. */
export interface HeldEntry {
  /** 1 for the ledger's first entry, then one more each. */
  readonly id: number;
  readonly target: Target;
  readonly kind: EntryKind;
  /** The arguments as they were at the call. */
  readonly args: readonly unknown[];
  /** The arguments themselves. */
  readonly liveArgs: readonly unknown[];
  readonly receiver: unknown;
  readonly began: number;
  ended: number | undefined;
  /** Milliseconds since the epoch. */
  readonly beganAt: number;
  endedAt: number | undefined;
  outcome: Outcome;
  readonly parent: number | undefined;
  /** What the arguments were copied from, if any needed a copy. */
  readonly copies: Copies;
  /** What the value or the reason at the end was copied from. */
  resultCopies: Copies;
  readonly captured: CapturedSite | undefined;
  /** The plan and the reply that answered, if one did. */
  answer: Answer | undefined;
  /** Why the promise that it gave back is not followed, if it gave one and it is not. */
  unfollowed: Unfollowed | undefined;
}

/** Why nothing will be heard of how a promise settles. */
export type Unfollowed =
  /** It is of a class of its own, or a thenable that may start when it is asked. */
  | 'thenable'
  /** It has properties beside those of a promise. */
  | 'added';

/** A call whose promise has not settled. */
export interface Pending {
  /** Milliseconds on the ledger's clock. */
  readonly since: number;
  readonly on: PendingOn;
}

/** What a pending call waits for: `moment` settles by itself, `nothing` never does. */
export type PendingOn = 'moment' | 'promise' | 'real' | 'nothing';

/** Hears the beginnings and the ends of entries, in the order of their ticks. */
export interface Hearing {
  hear(entry: HeldEntry, end: boolean): void;
}

export type EndState = 'returned' | 'threw' | 'fulfilled' | 'rejected';

export function openJournal({
  name,
  callSites,
  reveals,
  clock,
}: Pick<Journal, 'name' | 'reveals' | 'clock'> & { readonly callSites: number }): Journal {
  return {
    name,
    entries: [],
    events: [],
    targets: noTargets(),
    slip: newSlip(callSites),
    running: undefined,
    sitesLeft: callSites,
    promises: followPromises(),
    clock,
    pending: new Map(),
    hearing: undefined,
    reveals,
    late: undefined,
    closed: false,
  };
}

/** The last tick given: every beginning, every end and every mark takes one. */
export function tickOf({ events }: Journal): number {
  return events.length;
}

const running: Outcome = Object.freeze({ state: 'running' });
const pending: Outcome = Object.freeze({ state: 'pending' });
const returnedNothing: Outcome = Object.freeze({ state: 'returned', value: undefined });

// Taken at load, so that a faked clock has no say in what is recorded.
const { now } = Date;

/**
 * Records that something begins, with its arguments as they are now.
 *
 * @param args the call's own list: it is kept if nothing in it needs a copy
 * @param below the function whose caller is the call site; left out if there is no caller to name
 */
export function begin(
  journal: Journal,
  target: Target,
  kind: EntryKind,
  receiver: unknown,
  args: readonly unknown[],
  below: ((...args: never[]) => unknown) | undefined,
): HeldEntry {
  let captured: CapturedSite | undefined;
  if (journal.sitesLeft > 0 && below !== undefined) {
    journal.sitesLeft--;
    captured = captureSite(below);
  }
  let held = args;
  let copies: Copies;
  if (!holdsLeaves(args)) ({ values: held, copies } = copyList(args, journal));
  const { entries, events } = journal;
  const entry: HeldEntry = {
    id: entries.length + 1,
    target,
    kind,
    args: held,
    liveArgs: args,
    receiver,
    began: events.length + 1,
    ended: undefined,
    beganAt: now(),
    endedAt: undefined,
    outcome: running,
    parent: journal.running,
    copies,
    resultCopies: undefined,
    captured,
    answer: undefined,
    unfollowed: undefined,
  };
  entries.push(entry);
  events.push(entry);
  if (journal.hearing !== undefined) journal.hearing.hear(entry, false);
  return entry;
}

/** Whether a call has neither ended nor given back a promise. */
export function isRunning({ outcome }: HeldEntry): boolean {
  return outcome === running;
}

/** Records that a call ended; the value or the reason is copied as it is now. */
export function end(journal: Journal, entry: HeldEntry, state: EndState, result: unknown): void {
  if (entry.outcome === pending) journal.pending.delete(entry);
  journal.events.push(entry);
  entry.ended = journal.events.length;
  entry.endedAt = now();
  entry.outcome = outcomeOf(journal, entry, state, result);
  if (journal.hearing !== undefined) journal.hearing.hear(entry, true);
}

/** Records that a call gave back a promise that has not settled. */
export function leavePending(journal: Journal, entry: HeldEntry, on: PendingOn): void {
  entry.outcome = pending;
  journal.pending.set(entry, { since: journal.clock.now(), on });
}

/** Records a mark: it takes a tick of its own. */
export function placeMark(journal: Journal, make: (tick: number) => HeldMark): HeldMark {
  const mark = make(journal.events.length + 1);
  journal.events.push(mark);
  return mark;
}

function outcomeOf(journal: Journal, entry: HeldEntry, state: EndState, result: unknown): Outcome {
  if (state === 'returned' && result === undefined) return returnedNothing;
  let value = result;
  if (typeof result === 'object' && result !== null) {
    const { values, copies } = copyList([result], journal);
    [value] = values;
    entry.resultCopies = copies;
  } else {
    value = copyOf(result);
  }
  switch (state) {
    case 'returned':
    case 'fulfilled':
      return { state, value };
    case 'threw':
    case 'rejected':
      return { state, reason: value };
  }
}
