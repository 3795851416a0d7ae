import { shortValue } from '../notation/value.ts';
import { type HeldPlan, planFor, plansOf, takeReply } from '../plan/plan.ts';
import type { HeldReply } from '../plan/reply.ts';
import { noteReading, readingOf } from '../record/bodies.ts';
import { nextTurn } from '../record/clock.ts';
import { doublesShown } from '../record/double-names.ts';
import type { Outcome } from '../record/entry.ts';
import { end, type HeldEntry, leavePending } from '../record/journal.ts';
import type { Member, RealFunction } from '../record/member.ts';
import {
  endCall,
  endThrown,
  finish,
  recordCall,
  settleSoon,
  startCall,
} from '../record/record-call.ts';
import { tie } from '../record/tie.ts';
import { unplannedLines } from '../report/double-words.ts';
import { messageOf } from '../report/findings.ts';
import { explainUnplanned } from '../rule/explain-unplanned.ts';
import { noteBrokenReply, noteUnplanned } from '../rule/judgements.ts';
import { safeText } from '../value/escape.ts';
import { printsAs } from '../value/prints-as.ts';
import { isAsking, isQuiet } from '../value/quiet.ts';
import { untilAborted } from './until-aborted.ts';

/** A function that a ledger records. */
export type RecordedFunction = RealFunction;

/** A member with its plans at hand, so a call need not look them up. */
export interface Answering {
  readonly member: Member;
  readonly plans: readonly HeldPlan[];
}

/** Extra behavior that few functions for members have. */
export interface Besides {
  /** Answers `new`, if the function may be a class. */
  construct(args: unknown[], newTarget: RealFunction, recorded: RealFunction): unknown;
  /** Whether a call without `new` gets the real member and is not recorded: the platform's own, one that a class refuses. */
  readonly isUnrecorded: ((recorded: RealFunction) => boolean) | undefined;
}

/**
 * Makes the function for a member: each call of it becomes an entry, and the member's plans reply.
 *
 * @param key the name it has as a function
 * @param shown its printed form
 */
export function recordedFunction(
  member: Member,
  key: PropertyKey,
  shown: string,
  besides?: Besides,
): RecordedFunction {
  const { journal, target, real } = member;
  const answering: Answering = { member, plans: plansOf(member) };
  const { plans } = answering;
  const answersNothing = member.otherwise === 'nothing' && member.whenUnplanned !== 'fail';
  const runs = member.otherwise === 'real' ? real : undefined;
  const from = member.fake ? 'promise' : 'real';
  function recorded(this: unknown, ...args: unknown[]): unknown {
    if (besides !== undefined && new.target !== undefined)
      return besides.construct(args, new.target as never, recorded);
    if (isUnheard(member) || besides?.isUnrecorded?.(recorded) === true)
      return Reflect.apply(real as RealFunction, this, args);
    const reading = readingOf(member, args);
    if (reading !== undefined) return recordReading(answering, reading, this, args, recorded, runs);
    if (runs === undefined) {
      const answered = answersNothing && plans.length === 0 ? undefined : respond;
      return recordCall(journal, target, 'call', this, args, recorded, answered, answering);
    }
    const entry = startCall(journal, target, 'call', this, args, recorded);
    try {
      return plans.length === 0
        ? endCall(journal, entry, Reflect.apply(runs, this, args), from)
        : endCall(journal, entry, respond(entry, this, args, answering));
    } catch (reason) {
      endThrown(journal, entry, reason);
      throw reason;
    }
  }
  makeKnown(recorded, member, key, shown);
  return recorded;
}

/** Whether a call of a real member is not a call of the program: Ekkon's own, or an observed one's by a matcher that is asked. */
export function isUnheard({ real, otherwise }: Member): boolean {
  return real !== undefined && (isQuiet() || (isAsking() && otherwise === 'real'));
}

/**
 * Records a call whose body is being read: a plan that asks for it answers once it is known, the real member runs at
 * once.
 */
function recordReading(
  answering: Answering,
  reading: Promise<unknown>,
  receiver: unknown,
  args: unknown[],
  recorded: RecordedFunction,
  runs: RealFunction | undefined,
): unknown {
  const { member, plans } = answering;
  const { journal, target } = member;
  const entry = startCall(journal, target, 'call', receiver, args, recorded);
  const read = noteReading(journal, entry, reading);
  try {
    if (plans.length === 0 && runs !== undefined)
      return endCall(journal, entry, Reflect.apply(runs, receiver, args), 'real');
    if (plans.length === 0)
      return endCall(journal, entry, respond(entry, receiver, args, answering));
    const later = read.then(() => respondLate(entry, receiver, args, answering));
    return endCall(journal, entry, later);
  } catch (reason) {
    endThrown(journal, entry, reason);
    throw reason;
  }
}

/** Settles a call that is already pending: with a value, a thrown error, or a promise of either. */
function respondLate(
  entry: HeldEntry,
  receiver: unknown,
  args: unknown[],
  { member, plans }: Answering,
): unknown {
  const plan = planFor(plans, entry);
  if (plan === undefined) {
    if (member.real !== undefined && member.otherwise === 'real')
      return Reflect.apply(member.real, receiver, args);
    if (member.otherwise === 'unknown' || member.whenUnplanned === 'fail')
      throw unplannedCall(member, entry);
    if (plans.some(isOfRequests)) throw noAnswer(member, entry);
    return undefined;
  }
  const reply = takeReply(plan, entry);
  switch (reply.kind) {
    case 'fulfils':
      return reply.value;
    case 'throws':
    case 'rejects':
      throw reply.reason;
    case 'stalls':
      leavePending(member.journal, entry, 'nothing');
      return untilAborted(reply.untilAborted ? args : []);
    case 'deferred':
      return reply.take(() => {});
    case 'passesThrough':
      return Reflect.apply(member.real as RealFunction, receiver, args);
    default:
      return answer(member, entry, reply, receiver, args, plan);
  }
}

/** Gives a function for a member its name, its printed form, and its tie to the member. */
export function makeKnown(
  made: RecordedFunction,
  member: Member,
  key: PropertyKey,
  shown: string,
): void {
  name(made, key);
  Object.defineProperty(made, printsAs, { value: shown });
  doublesShown(member.journal).set(shown, made);
  tie(made, member);
}

/** Gives a function its name as a function. */
export function name(named: object, key: PropertyKey): void {
  const value = typeof key === 'symbol' ? `[${key.description ?? ''}]` : String(key);
  Object.defineProperty(named, 'name', { value, configurable: true });
}

/** Answers a recorded call: by a plan, or by the member's default. */
export function respond(
  entry: HeldEntry,
  receiver: unknown,
  args: unknown[],
  { member, plans }: Answering,
): unknown {
  const plan = plans.length === 0 ? undefined : planFor(plans, entry);
  if (plan !== undefined)
    return answer(member, entry, takeReply(plan, entry), receiver, args, plan);
  if (member.otherwise === 'real') return passThrough(member, entry, receiver, args);
  if (member.otherwise === 'unknown' || member.whenUnplanned === 'fail')
    throw unplannedCall(member, entry);
  if (plans.some(isOfRequests)) return settle(member, entry, 'rejected', noAnswer(member, entry));
  switch (member.otherwise) {
    case 'promise':
      return settle(member, entry, 'fulfilled', undefined);
    case 'items':
      return noItems();
    case 'asyncItems':
      return noItemsLater();
    default:
      return undefined;
  }
}

function* noItems(): Generator<never> {}

async function* noItemsLater(): AsyncGenerator<never> {}

/** Whether a plan answers requests: the sender expects a response, and an undefined one would hide the fault. */
function isOfRequests({ pattern }: HeldPlan): boolean {
  return pattern.lens !== undefined;
}

/** The error of a call that no plan answers, with where each plan differs. */
function noAnswer(member: Member, entry: HeldEntry): TypeError {
  const diagnosis = explainUnplanned(member, entry);
  const told = [messageOf(diagnosis), ...unplannedLines(diagnosis).map((line) => `    ${line}`)];
  return new TypeError(safeText(`${told.join('\n')}\n`));
}

function answer(
  member: Member,
  entry: HeldEntry,
  reply: HeldReply,
  receiver: unknown,
  args: unknown[],
  { pattern }: HeldPlan,
): unknown {
  const { journal } = member;
  switch (reply.kind) {
    case 'gives':
      return reply.value;
    case 'throws':
      throw reply.reason;
    case 'fulfils':
      return settle(member, entry, 'fulfilled', reply.value);
    case 'rejects':
      return settle(member, entry, 'rejected', reply.reason);
    case 'computes':
      return compute(member, entry, reply.run, receiver, pattern.lens?.show(entry) ?? args);
    case 'responds':
      return reply.run(args, journal.clock);
    case 'passesThrough':
      return passThrough(member, entry, receiver, args);
    case 'callsBack':
      return callBack(member, entry, reply, args);
    case 'replays':
      return replay(member, entry, reply.next(member.target.label, entry.args));
    case 'stalls':
      return stall(member, entry, reply.untilAborted ? args : []);
    case 'deferred':
      leavePending(journal, entry, 'promise');
      return reply.take(({ state, result }) => end(journal, entry, state, result));
  }
}

/** A promise that settles so at once; the call ends as it does. One that fulfils with a thenable settles as that does. */
function settle(
  { journal }: Member,
  entry: HeldEntry,
  state: 'fulfilled' | 'rejected',
  result: unknown,
): unknown {
  if (state === 'fulfilled' && isThenable(result))
    return finish(journal, entry, Promise.resolve(result));
  settleSoon(journal, entry, state, result);
  return state === 'fulfilled' ? Promise.resolve(result) : Promise.reject(result);
}

/** Whether a promise that is resolved with a value waits for it. Reads `then` as the platform does. */
function isThenable(value: unknown): boolean {
  if ((typeof value !== 'object' && typeof value !== 'function') || value === null) return false;
  try {
    return typeof (value as { readonly then?: unknown }).then === 'function';
  } catch {
    return true;
  }
}

/** A promise that never settles, unless a signal among some arguments is aborted. */
function stall({ journal }: Member, entry: HeldEntry, args: readonly unknown[]): Promise<unknown> {
  leavePending(journal, entry, 'nothing');
  return untilAborted(args, (reason) => end(journal, entry, 'rejected', reason));
}

function passThrough(
  member: Member,
  entry: HeldEntry,
  receiver: unknown,
  args: unknown[],
): unknown {
  const { journal, real, fake, target } = member;
  if (real === undefined) throw new TypeError(`${target.label} stands for no real member`);
  return finish(journal, entry, Reflect.apply(real, receiver, args), fake ? 'promise' : 'real');
}

/** Ends a call as one of its kind ended in another record; one that the record does not know is a finding. */
function replay(member: Member, entry: HeldEntry, outcome: Outcome | undefined): unknown {
  switch (outcome?.state) {
    case undefined:
      throw unplannedCall(member, entry);
    case 'returned':
      return outcome.value;
    case 'threw':
      throw outcome.reason;
    case 'fulfilled':
      return settle(member, entry, outcome.state, outcome.value);
    case 'rejected':
      return settle(member, entry, outcome.state, outcome.reason);
    case 'running':
    case 'pending':
      return stall(member, entry, []);
  }
}

/** Runs a reply of the test's own. An assertion that fails in it stays a finding though its caller swallows the error. */
function compute(
  { journal }: Member,
  entry: HeldEntry,
  run: RealFunction,
  receiver: unknown,
  args: readonly unknown[],
): unknown {
  const note = (reason: unknown): void => {
    if (isAssertion(reason)) noteBrokenReply(journal, { entry, reason, is: 'assertion' });
  };
  try {
    const result: unknown = Reflect.apply(run, receiver, args as unknown[]);
    if (result instanceof Promise) result.catch(note);
    return result;
  } catch (reason) {
    note(reason);
    throw reason;
  }
}

/** Whether an error says that an assertion failed: a runner's, the platform's, or a claim. */
function isAssertion(reason: unknown): boolean {
  if (typeof reason !== 'object' || reason === null) return false;
  const { name, code } = reason as { readonly name?: unknown; readonly code?: unknown };
  return name === 'AssertionError' || name === 'ClaimError' || code === 'ERR_ASSERTION';
}

function callBack(
  member: Member,
  entry: HeldEntry,
  { argument, args: given, later, gives }: HeldReply & { readonly kind: 'callsBack' },
  args: readonly unknown[],
): unknown {
  const callback = callbackAmong(member, entry, argument, args);
  if (later) nextTurn(() => Reflect.apply(callback, undefined, given));
  else Reflect.apply(callback, undefined, given);
  return gives;
}

function callbackAmong(
  { target, journal }: Member,
  entry: HeldEntry,
  argument: number | undefined,
  args: readonly unknown[],
): (...args: unknown[]) => unknown {
  const places =
    argument === undefined
      ? args.flatMap((each, at) => (typeof each === 'function' ? [at] : []))
      : [argument];
  const [place] = places;
  const callback = place === undefined ? undefined : args[place];
  if (typeof callback === 'function' && places.length === 1)
    return callback as (...args: unknown[]) => unknown;
  const reason = new TypeError(`${target.label}: ${noCallback(argument, places, args)}`);
  noteBrokenReply(journal, { entry, reason, is: 'plan' });
  throw reason;
}

function noCallback(
  argument: number | undefined,
  places: readonly number[],
  args: readonly unknown[],
): string {
  if (argument !== undefined) {
    const found = argument < args.length ? shortValue(args[argument]) : 'missing';
    return `its plan calls back argument ${argument}, which is ${found}, not a function`;
  }
  const were =
    args.length === 0
      ? 'there are no arguments'
      : `the arguments are ${args.map((each) => shortValue(each)).join(', ')}`;
  return places.length === 0
    ? `its plan calls back the only function among the arguments, and there is none: ${were}`
    : `its plan calls back the only function among the arguments, and there are ${places.length}; say which: callsBack([…], { argument: ${places[0]} })`;
}

/**
 * The error for the caller of a call that nothing answers. The ledger keeps the finding, so it is reported at close
 * even if the caller swallowed the error.
 */
export function unplannedCall(member: Member, entry: HeldEntry): Error {
  noteUnplanned(member, entry);
  return noAnswer(member, entry);
}
