import { shortValue } from '../notation/value.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { makeOwn, printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { noteUsed, noteWritten } from '../record/written.ts';
import type { Claim } from './count.ts';
import { eventOf, type HeldEvent, isEnd, memberOf } from './event.ts';
import type { EventPattern } from './pattern.ts';

/** A claim on the order of two kinds of events, behind its public type. */
export interface HeldPrecedence extends Claim {
  readonly claim: 'onlyAfter' | 'leadsTo';
  readonly record: LedgerRecord;
  /** What needs the other one. */
  readonly needing: HeldEvent;
  readonly needed: HeldEvent;
  readonly [printsAs]: string;
}

/**
 * Claims that nothing of the first kind comes without something of the second before it.
 *
 * @throws TypeError where one of them is no pattern with a moment, or where two ledgers are mixed
 * @example
 * check(onlyAfter(call(camera.expose), call(dome.open)));
 */
export function onlyAfter(later: EventPattern, earlier: EventPattern): Claim {
  return makePrecedence('onlyAfter', later, earlier, onlyAfter);
}

/**
 * Claims that everything of the first kind is followed, sooner or later, by something of the second.
 *
 * @throws TypeError where one of them is no pattern with a moment, or where two ledgers are mixed
 * @example
 * check(leadsTo(call(dome.open), call(dome.close)));
 */
export function leadsTo(cause: EventPattern, effect: EventPattern): Claim {
  return makePrecedence('leadsTo', cause, effect, leadsTo);
}

function makePrecedence(
  claim: HeldPrecedence['claim'],
  one: EventPattern,
  other: EventPattern,
  below: (...args: never[]) => unknown,
): Claim {
  const [needing, needed] = [readMoment(one, below), readMoment(other, below)];
  const { record } = memberOf(needing);
  if (memberOf(needed).record !== record) {
    refuse(
      `${below.name}() was given patterns on two ledgers, "${record.name}" and "${memberOf(needed).record.name}". A claim speaks of one ledger.`,
      below,
    );
  }
  const word = claim === 'onlyAfter' ? 'only after' : 'leads to';
  const notation = `${needing[printsAs]} ${word} ${needed[printsAs]}`;
  const made = makeOwn<HeldPrecedence>({
    claim,
    record,
    needing,
    needed,
    notation,
    [printsAs]: notation,
  });
  return noteWritten(record, 'claim', made, below);
}

/** A pattern that means a moment: `unfinished` does not. */
export function readMoment(value: unknown, below: (...args: never[]) => unknown): HeldEvent {
  const event = eventOf(value);
  if (event === undefined) {
    refuse(
      `${below.name}() takes patterns, and was given ${shortValue(value)}. Write call(dome.open), or fulfilled(call(mount.slewTo)).`,
      below,
    );
  }
  if (isEnd(event) && event.of === 'unfinished') {
    refuse(`${below.name}(): ${event[printsAs]} is no moment. It is for counts.`, below);
  }
  noteUsed(memberOf(event).record, event);
  return event;
}
