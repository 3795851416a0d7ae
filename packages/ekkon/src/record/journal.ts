import { areTheirOwnCopies, type Copies, copyList, copyOf } from '../value/copy.ts';
import { isAsking } from '../value/quiet.ts';
import type { HeldReveal } from '../value/revealed.ts';
import { type CapturedSite, captureSite, framesOfStreams } from './call-site.ts';
import type { Clock } from './clock.ts';
import type { EntryKind, HeldAnswer, Outcome } from './entry.ts';
import type { HeldMark } from './mark.ts';
import { followPromises, type Promises } from './settle.ts';
import { newSlip, type Slip } from './slip.ts';
import { noTargets, type Target, type Targets } from './target.ts';

/** The ordered, append-only record of one ledger, and the slip of everything written on it. */
export interface Journal {
  readonly name: string;
  readonly entries: HeldEntry[];
  readonly marks: HeldMark[];
  /** The last tick given: every beginning, every end and every mark takes one. */
  tick: number;
  /** When it was opened, in milliseconds since the epoch. */
  readonly openedAt: number;
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
  /** The entries of which the body is still being read. */
  readonly unread: Set<HeldEntry>;
  /** Hears each event as it is recorded, if somebody waits for one. */
  hearing: Listening | undefined;
  /** Keeps each event as it is recorded, if the record is written to a file as it grows. */
  keeping: Keeping | undefined;
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
  readonly receiver: unknown;
  readonly began: number;
  ended: number | undefined;
  /** Milliseconds since the ledger was opened; it ended in the same one unless `more` has another. */
  readonly beganAt: number;
  outcome: Outcome;
  readonly parent: number | undefined;
  /** The original arguments and the sources of their copies, if any needed a copy. */
  readonly given: Given | undefined;
  /** Rare properties: see `moreOf`. */
  more: MoreOfEntry | undefined;
}

/** The arguments of a call, and the sources of their copies. */
export interface Given {
  readonly args: readonly unknown[];
  readonly copies: Copies;
}

/** Rare properties of entries, kept apart so that the others need no room for them. */
export interface MoreOfEntry {
  /** Where it was called, if call sites were still captured. */
  captured: CapturedSite | undefined;
  /** The plan and the reply that answered, if one did. */
  answer: HeldAnswer | undefined;
  /** The source of the copied value or reason at the end. */
  resultCopies: Copies | undefined;
  /** Why the promise that it gave back is not followed, if it gave one and it is not. */
  unfollowed: Unfollowed | undefined;
  /** When it ended, if that is not the millisecond in which it began. */
  endedAt: number | undefined;
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
  /** When it was last seen to be pending, if that is not now: a record that was read goes no further. */
  readonly until?: number;
  readonly on: PendingOn;
}

/** How a pending call settles: `moment` by itself, `nothing` never. */
export type PendingOn = 'moment' | 'promise' | 'real' | 'nothing';

/** Hears the beginnings and the ends of entries, in the order of their ticks. */
export interface Hearer {
  hear(entry: HeldEntry, end: boolean): void;
}

/** Hears events for those who wait, and of entries whose body has been read. */
export interface Listening extends Hearer {
  read(entry: HeldEntry): void;
}

/** Hears all that a record consists of, in the order of the ticks. */
export interface Keeping extends Hearer {
  pends(entry: HeldEntry): void;
  mark(mark: HeldMark): void;
  close(): void;
}

// Taken at load, so a faked clock does not affect the record.
const { now } = Date;

export type EndState = 'returned' | 'threw' | 'fulfilled' | 'rejected';

export function openJournal({
  name,
  callSites,
  reveals,
  clock,
  openedAt = now(),
}: Pick<Journal, 'name' | 'reveals' | 'clock'> & {
  readonly callSites: number;
  readonly openedAt?: number;
}): Journal {
  return {
    name,
    entries: [],
    marks: [],
    tick: 0,
    openedAt,
    targets: noTargets(),
    slip: newSlip(callSites),
    running: undefined,
    sitesLeft: callSites,
    promises: followPromises(),
    clock,
    pending: new Map(),
    unread: new Set(),
    hearing: undefined,
    keeping: undefined,
    reveals,
    late: undefined,
    closed: false,
  };
}

const running: Outcome = Object.freeze({ state: 'running' });
const pending: Outcome = Object.freeze({ state: 'pending' });
const returnedNothing: Outcome = Object.freeze({ state: 'returned', value: undefined });

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
  if (isAsking()) refuseAsked(target, kind);
  let captured: CapturedSite | undefined;
  if (journal.sitesLeft > 0 && below !== undefined) {
    journal.sitesLeft--;
    captured = isOfStream(kind) ? captureSite(below, framesOfStreams) : captureSite(below);
  }
  let held = args;
  let given: Given | undefined;
  if (!areTheirOwnCopies(args)) {
    const { values, copies } = copyList(args, journal);
    held = values;
    given = { args, copies };
  }
  const { entries } = journal;
  const entry: HeldEntry = {
    id: entries.length + 1,
    target,
    kind,
    args: held,
    receiver,
    began: ++journal.tick,
    ended: undefined,
    beganAt: timeIn(journal),
    outcome: running,
    parent: journal.running,
    given,
    more: undefined,
  };
  if (captured !== undefined) moreOf(entry).captured = captured;
  entries.push(entry);
  if (journal.keeping !== undefined) journal.keeping.hear(entry, false);
  if (journal.hearing !== undefined) journal.hearing.hear(entry, false);
  return entry;
}

function isOfStream(kind: EntryKind): boolean {
  return kind === 'item' || kind === 'end' || kind === 'failure';
}

/** A matcher that is being asked about the record must not add to it: judging it would never end. */
function refuseAsked({ label }: Target, kind: EntryKind): never {
  const used = kind === 'call' ? 'called' : 'used';
  throw new TypeError(
    `${label} was ${used} inside a predicate; use it before, and let the predicate look at the result`,
  );
}

/** Milliseconds since a journal was opened: a small number, which needs no room of its own. */
function timeIn({ openedAt }: Journal): number {
  const time = now() - openedAt;
  return time < longestSmall && time > -longestSmall ? time | 0 : time;
}

const longestSmall = 2 ** 30;

/** The rare properties of an entry, created on demand. */
export function moreOf(entry: HeldEntry): MoreOfEntry {
  entry.more ??= {
    captured: undefined,
    answer: undefined,
    resultCopies: undefined,
    unfollowed: undefined,
    endedAt: undefined,
  };
  return entry.more;
}

/** Whether a call has neither ended nor given back a promise. */
export function isRunning({ outcome }: HeldEntry): boolean {
  return outcome === running;
}

/** Records that a call ended; the value or the reason is copied as it is now. */
export function end(journal: Journal, entry: HeldEntry, state: EndState, result: unknown): void {
  if (entry.outcome === pending) journal.pending.delete(entry);
  const endedAt = timeIn(journal);
  if (endedAt !== entry.beganAt) moreOf(entry).endedAt = endedAt;
  entry.ended = ++journal.tick;
  entry.outcome = outcomeOf(journal, entry, state, result);
  if (journal.keeping !== undefined) journal.keeping.hear(entry, true);
  if (journal.hearing !== undefined) journal.hearing.hear(entry, true);
}

/** Records that a call threw, though there is no room on the stack to copy the reason. */
export function endUncopied(journal: Journal, entry: HeldEntry, reason: unknown): void {
  entry.ended = ++journal.tick;
  entry.outcome = { state: 'threw', reason };
  if (journal.keeping !== undefined) journal.keeping.hear(entry, true);
}

/** Records that a call ended as soon as it had begun, with nothing: no time has passed. */
export function endAtOnce(journal: Journal, entry: HeldEntry): void {
  entry.ended = ++journal.tick;
  entry.outcome = returnedNothing;
  if (journal.keeping !== undefined) journal.keeping.hear(entry, true);
  if (journal.hearing !== undefined) journal.hearing.hear(entry, true);
}

/** Records that a call gave back a promise that has not settled. */
export function leavePending(journal: Journal, entry: HeldEntry, on: PendingOn): void {
  entry.outcome = pending;
  journal.pending.set(entry, { since: journal.clock.now(), on });
  if (journal.keeping !== undefined) journal.keeping.pends(entry);
}

/** Records a mark: it takes a tick of its own. */
export function placeMark(journal: Journal, make: (tick: number) => HeldMark): HeldMark {
  const mark = make(++journal.tick);
  journal.marks.push(mark);
  if (journal.keeping !== undefined) journal.keeping.mark(mark);
  return mark;
}

function outcomeOf(journal: Journal, entry: HeldEntry, state: EndState, result: unknown): Outcome {
  if (state === 'returned' && result === undefined) return returnedNothing;
  let value = result;
  if (typeof result === 'object' && result !== null) {
    const { values, copies } = copyList([result], journal);
    [value] = values;
    moreOf(entry).resultCopies = copies;
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

/** An entry as it was recorded elsewhere. */
type EntryRead = Pick<
  HeldEntry,
  'id' | 'target' | 'kind' | 'args' | 'receiver' | 'began' | 'beganAt' | 'parent'
>;

/** Makes an entry that was recorded elsewhere: it may still end. The reader may keep it in `entries`. */
export function makeEntry(
  journal: Journal,
  { id, target, kind, args, receiver, began, beganAt, parent }: EntryRead,
  captured: CapturedSite | undefined,
  answer: HeldAnswer | undefined,
): HeldEntry {
  const more: MoreOfEntry | undefined =
    captured === undefined && answer === undefined
      ? undefined
      : { captured, answer, resultCopies: undefined, unfollowed: undefined, endedAt: undefined };
  journal.tick = began;
  return {
    id,
    target,
    kind,
    args,
    receiver,
    began,
    ended: undefined,
    beganAt,
    outcome: running,
    parent,
    given: undefined,
    more,
  };
}

/** Ends an entry as it ended elsewhere. */
export function endEntry(
  journal: Journal,
  entry: HeldEntry,
  end: { readonly tick: number; readonly at: number; readonly outcome: Outcome },
): void {
  if (entry.outcome === pending) journal.pending.delete(entry);
  if (end.at !== entry.beganAt) moreOf(entry).endedAt = end.at;
  entry.ended = end.tick;
  entry.outcome = end.outcome;
  journal.tick = end.tick;
}

/** Notes that an entry had given back a promise. */
export function pendEntry(entry: HeldEntry): void {
  if (entry.outcome === running) entry.outcome = pending;
}
