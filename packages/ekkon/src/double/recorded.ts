import { shortValue } from '../notation/value.ts';
import { type HeldPlan, planFor, takeReply } from '../plan/plan.ts';
import type { HeldReply } from '../plan/reply.ts';
import type { HeldEntry, LedgerRecord, Member, RealFunction } from '../record/ledger-record.ts';
import { printsAs } from '../record/prints-as.ts';
import { begin, end, leavePending } from '../record/recording.ts';
import { soon } from '../record/settle.ts';
import { tie } from '../record/tie.ts';
import { judgeLateCall } from './late.ts';
import { unplannedCall } from './unplanned.ts';

/** A function that a ledger records. */
export type RecordedFunction = RealFunction;

/**
 * Makes the function that stands for a member: each call of it becomes an entry, and what the member's
 * plans say is its reply.
 *
 * @param key the name it has as a function
 * @param shown what it prints as
 */
export function recordedFunction(
  member: Member<HeldPlan>,
  key: PropertyKey,
  shown: string,
): RecordedFunction {
  const { record, label, plans } = member;
  const answersNothing = member.otherwise === 'nothing' && member.whenUnplanned !== 'fail';
  function recorded(this: unknown, ...args: unknown[]): unknown {
    const entry = begin(record, label, this, args, recorded);
    if (answersNothing && plans.length === 0 && !record.closed) {
      end(record, entry, 'returned', undefined);
      return undefined;
    }
    return respond(member, entry, this, args);
  }
  makeKnown(recorded, member, key, shown);
  return recorded;
}

/** Gives a function that stands for a member its name, what it prints as, and its tie to the member. */
export function makeKnown(
  made: RecordedFunction,
  member: Member<HeldPlan>,
  key: PropertyKey,
  shown: string,
): void {
  name(made, key);
  Object.defineProperty(made, printsAs, { value: shown });
  tie(made, member);
}

/** Gives a function its name as a function. */
export function name(named: object, key: PropertyKey): void {
  const value = typeof key === 'symbol' ? `[${key.description ?? ''}]` : String(key);
  Object.defineProperty(named, 'name', { value, configurable: true });
}

/** Answers a call that was recorded: by a plan, or by what the member does otherwise. */
export function respond(
  member: Member<HeldPlan>,
  entry: HeldEntry,
  receiver: unknown,
  args: unknown[],
): unknown {
  const { record, plans } = member;
  if (record.closed) judgeLateCall(record, entry);
  const plan = plans.length === 0 ? undefined : planFor(plans, entry);
  if (plan !== undefined) return answer(member, entry, takeReply(plan, entry), receiver, args);
  if (member.otherwise === 'real') return passThrough(member, entry, receiver, args);
  if (member.otherwise === 'unknown' || member.whenUnplanned === 'fail')
    throw unplannedCall(member, entry);
  if (member.otherwise === 'nothing') return finish(record, entry, undefined);
  settleSoon(record, entry, 'fulfilled', undefined);
  return Promise.resolve();
}

function answer(
  member: Member<HeldPlan>,
  entry: HeldEntry,
  reply: HeldReply,
  receiver: unknown,
  args: unknown[],
): unknown {
  const { record } = member;
  switch (reply.kind) {
    case 'gives':
      return finish(record, entry, reply.value);
    case 'throws':
      end(record, entry, 'threw', reply.reason);
      throw reply.reason;
    case 'fulfils':
      settleSoon(record, entry, 'fulfilled', reply.value);
      return Promise.resolve(reply.value);
    case 'rejects':
      settleSoon(record, entry, 'rejected', reply.reason);
      return Promise.reject(reply.reason);
    case 'computes':
      return finish(
        record,
        entry,
        run(record, entry, () => Reflect.apply(reply.run, receiver, args)),
      );
    case 'passesThrough':
      return passThrough(member, entry, receiver, args);
    case 'callsBack':
      run(record, entry, () => callBack(member, reply.index, reply.args, args));
      return finish(record, entry, undefined);
    case 'stalls':
      leavePending(record, entry, 'nothing');
      return new Promise(() => {});
    case 'deferred':
      leavePending(record, entry, 'promise');
      return reply.take(({ state, result }) => end(record, entry, state, result));
  }
}

function passThrough(
  member: Member<HeldPlan>,
  entry: HeldEntry,
  receiver: unknown,
  args: unknown[],
): unknown {
  const { record, real } = member;
  if (real === undefined) throw new TypeError(`${member.label} stands for no real member`);
  return finish(
    record,
    entry,
    run(record, entry, () => Reflect.apply(real, receiver, args)),
    member.fake ? 'promise' : 'real',
  );
}

function callBack(
  member: Member<HeldPlan>,
  index: number,
  given: readonly unknown[],
  args: readonly unknown[],
): void {
  const callback = args[index];
  if (typeof callback !== 'function') {
    const found =
      index < args.length ? shortValue(callback) : `nothing, of ${args.length} arguments`;
    throw new TypeError(
      `${member.label} was planned to call back the function at place ${index} of its arguments, and found ${found} there`,
    );
  }
  Reflect.apply(callback, undefined, given);
}

/** A promise of Ekkon's own settles in a known way, so that it is watched without being touched. */
function settleSoon(
  record: LedgerRecord,
  entry: HeldEntry,
  state: 'fulfilled' | 'rejected',
  result: unknown,
): void {
  leavePending(record, entry, 'moment');
  soon(() => end(record, entry, state, result));
}

/** Runs somebody else's code as part of a call: what it calls in turn is called during this entry. */
export function run<T>(record: LedgerRecord, entry: HeldEntry, code: () => T): T {
  const outer = record.running;
  record.running = entry.id;
  try {
    return code();
  } catch (reason) {
    end(record, entry, 'threw', reason);
    throw reason;
  } finally {
    record.running = outer;
  }
}

/** Records how the call ended, and gives what the caller gets. */
export function finish(
  record: LedgerRecord,
  entry: HeldEntry,
  result: unknown,
  from: 'promise' | 'real' = 'promise',
): unknown {
  const followed =
    typeof result === 'object' && result !== null
      ? record.promises.follow(result, {
          fulfilled: (value) => end(record, entry, 'fulfilled', value),
          rejected: (reason) => end(record, entry, 'rejected', reason),
        })
      : undefined;
  if (followed === undefined) end(record, entry, 'returned', result);
  else leavePending(record, entry, from);
  return followed ?? result;
}
