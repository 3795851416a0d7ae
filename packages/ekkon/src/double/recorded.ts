import { type HeldPlan, takeReply } from '../plan/plan.ts';
import type { HeldReply } from '../plan/reply.ts';
import type { HeldEntry, LedgerRecord, Member } from '../record/ledger-record.ts';
import { printsAs } from '../record/prints-as.ts';
import { begin, end, leavePending } from '../record/recording.ts';
import { soon } from '../record/settle.ts';
import { tie } from '../record/tie.ts';

/** A function that a ledger records. */
export type RecordedFunction = (this: unknown, ...args: unknown[]) => unknown;

/**
 * Makes the function that stands for a member: each call of it becomes an entry, and what the member's
 * plans say is its reply; `undefined` where none fits.
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
  function recorded(this: unknown, ...args: unknown[]): unknown {
    const entry = begin(record, label, this, args, recorded);
    if (plans.length === 0) {
      end(record, entry, 'returned', undefined);
      return undefined;
    }
    const reply = takeReply(plans, entry);
    return reply === undefined
      ? finish(record, entry, undefined)
      : answer(record, entry, reply, this, args);
  }
  Object.defineProperty(recorded, 'name', {
    value: typeof key === 'symbol' ? (key.description ?? '') : String(key),
    configurable: true,
  });
  Object.defineProperty(recorded, printsAs, { value: shown });
  tie(recorded, member);
  return recorded;
}

function answer(
  record: LedgerRecord,
  entry: HeldEntry,
  reply: HeldReply,
  receiver: unknown,
  args: unknown[],
): unknown {
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
      return finish(record, entry, compute(record, entry, reply.run, receiver, args));
  }
}

/** A promise of Ekkon's own settles in a known way, so that it is watched without being touched. */
function settleSoon(
  record: LedgerRecord,
  entry: HeldEntry,
  state: 'fulfilled' | 'rejected',
  result: unknown,
): void {
  leavePending(entry);
  soon(() => end(record, entry, state, result));
}

/** Runs what computes the reply; calls that it makes in turn are made during this entry. */
function compute(
  record: LedgerRecord,
  entry: HeldEntry,
  run: RecordedFunction,
  receiver: unknown,
  args: unknown[],
): unknown {
  const outer = record.running;
  record.running = entry.id;
  try {
    return Reflect.apply(run, receiver, args);
  } catch (reason) {
    end(record, entry, 'threw', reason);
    throw reason;
  } finally {
    record.running = outer;
  }
}

/** Records how the call ended, and gives what the caller gets. */
function finish(record: LedgerRecord, entry: HeldEntry, result: unknown): unknown {
  const followed =
    typeof result === 'object' && result !== null
      ? record.promises.follow(result, {
          fulfilled: (value) => end(record, entry, 'fulfilled', value),
          rejected: (reason) => end(record, entry, 'rejected', reason),
        })
      : undefined;
  if (followed === undefined) end(record, entry, 'returned', result);
  else leavePending(entry);
  return followed ?? result;
}
