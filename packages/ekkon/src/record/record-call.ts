import type { Below } from '../value/below.ts';
import { descriptorOf } from '../value/prototype-chain.ts';
import type { EntryKind } from './entry.ts';
import {
  begin,
  end,
  endAtOnce,
  endUncopied,
  type HeldEntry,
  isRunning,
  type Journal,
  leavePending,
  moreOf,
  type PendingOn,
  type Unfollowed,
} from './journal.ts';
import { soon } from './settle.ts';
import type { Target } from './target.ts';

/** Answers a recorded call: returns its result, or throws. */
export type Respond<C> = (
  entry: HeldEntry,
  receiver: unknown,
  args: unknown[],
  context: C,
) => unknown;

/**
 * The one way in which calls, constructions, reads, writes and stream events are recorded: the entry begins, its
 * answer runs as part of it, and the entry ends however that ends.
 *
 * @param below the function whose caller is the call site; left out if there is no caller to name
 * @param respond left out if nothing answers
 * @param context passed on to `respond`, so no function has to be made for each call
 * @returns the caller's result
 */
export function recordCall<C>(
  journal: Journal,
  target: Target,
  kind: EntryKind,
  receiver: unknown,
  args: unknown[],
  below: Below | undefined,
  respond: Respond<C> | undefined,
  context: C,
): unknown {
  if (respond === undefined && journal.late === undefined) {
    endAtOnce(journal, begin(journal, target, kind, receiver, args, below));
    return undefined;
  }
  const entry = startCall(journal, target, kind, receiver, args, below);
  try {
    return endCall(journal, entry, respond?.(entry, receiver, args, context));
  } catch (reason) {
    endThrown(journal, entry, reason);
    throw reason;
  }
}

/**
 * Records that a call begins; everything until `endCall` or `endThrown` is part of it. For callers that run the real
 * member in their own frame, so it can recurse nearly as deeply as without Ekkon.
 */
export function startCall(
  journal: Journal,
  target: Target,
  kind: EntryKind,
  receiver: unknown,
  args: unknown[],
  below: Below | undefined,
): HeldEntry {
  const entry = begin(journal, target, kind, receiver, args, below);
  journal.running = entry.id;
  if (journal.late === undefined) return entry;
  try {
    journal.late(entry);
  } catch (reason) {
    endThrown(journal, entry, reason);
    throw reason;
  }
  return entry;
}

/** Records the end of a call, unless its answer has done so, and returns the caller's result. */
export function endCall(
  journal: Journal,
  entry: HeldEntry,
  result: unknown,
  from: PendingOn = 'promise',
): unknown {
  journal.running = entry.parent;
  return isRunning(entry) ? finish(journal, entry, result, from) : result;
}

/** Records that a call threw, unless it had ended before. */
export function endThrown(journal: Journal, entry: HeldEntry, reason: unknown): void {
  journal.running = entry.parent;
  if (reason instanceof RangeError) endInner(journal, entry, reason);
  if (!isRunning(entry)) return;
  try {
    end(journal, entry, 'threw', reason);
  } catch (failure) {
    if (!(failure instanceof RangeError)) throw failure;
    if (isRunning(entry)) endUncopied(journal, entry, reason);
  }
}

/** Where the stack was full, calls inside may have had no room to say that they ended. */
function endInner(journal: Journal, { id }: HeldEntry, reason: unknown): void {
  for (let at = journal.entries.length - 1; at >= id; at--) {
    const inner = journal.entries[at];
    // One further in may have ended, though the one around it had no room.
    if (inner !== undefined && isRunning(inner)) endUncopied(journal, inner, reason);
  }
}

/** Records a momentary event without an answer: a stream event. */
export function recordMoment(
  journal: Journal,
  target: Target,
  kind: EntryKind,
  args: unknown[],
  below: Below | undefined,
): void {
  recordCall(journal, target, kind, undefined, args, below, undefined, undefined);
}

/** Records how a call ended, or that its promise has not settled, and returns the caller's result. */
export function finish(
  journal: Journal,
  entry: HeldEntry,
  result: unknown,
  from: PendingOn = 'promise',
): unknown {
  if (typeof result !== 'object' || result === null) {
    end(journal, entry, 'returned', result);
    return result;
  }
  const followed = journal.promises.follow(result, {
    fulfilled: (value) => end(journal, entry, 'fulfilled', value),
    rejected: (reason) => end(journal, entry, 'rejected', reason),
  });
  if (followed !== undefined) {
    leavePending(journal, entry, from);
    return followed;
  }
  const unfollowed = whyUnfollowed(result);
  if (unfollowed !== undefined) moreOf(entry).unfollowed = unfollowed;
  end(journal, entry, 'returned', result);
  return result;
}

/** Why a result is a promise of which nothing will be heard; `undefined` if it is not a promise. */
function whyUnfollowed(result: object): Unfollowed | undefined {
  if (Object.getPrototypeOf(result) === Promise.prototype) return 'added';
  try {
    return typeof descriptorOf(result, 'then')?.value === 'function' ? 'thenable' : undefined;
  } catch {
    // A proxy that refuses to be asked.
    return undefined;
  }
}

/** Ekkon's own promises settle in a known way, so they are watched without being touched. */
export function settleSoon(
  journal: Journal,
  entry: HeldEntry,
  state: 'fulfilled' | 'rejected',
  result: unknown,
): void {
  leavePending(journal, entry, 'moment');
  soon(() => end(journal, entry, state, result));
}
