import { shortValue } from '../notation/value.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { makeOwn, printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { noteUsed, noteWritten } from '../record/written.ts';
import type { Claim } from './count.ts';
import { type Multiplicity, printRange, type Range, readRange } from './multiplicity.ts';
import { type EventPattern, type HeldPattern, patternOf } from './pattern.ts';

/** A claim on how many calls are under way at one time, behind its public type. */
export interface HeldInFlight extends Claim {
  readonly claim: 'inFlight';
  readonly record: LedgerRecord;
  readonly range: Range;
  readonly calls: HeldPattern;
  readonly [printsAs]: string;
}

/**
 * Claims how many fitting calls are under way at one time, at most: the greatest number lies in the range.
 *
 * @throws TypeError where the range is none, or where it is given no pattern of calls
 * @example
 * check(inFlight('0..2', call(archive.store)));
 */
export function inFlight(range: Multiplicity, p: EventPattern): Claim {
  const bounds = readRange(range, inFlight);
  const calls = patternOf(p);
  if (calls === undefined) {
    refuse(
      `inFlight() takes a pattern of calls, and was given ${shortValue(p)}. Write inFlight('0..2', call(archive.store)).`,
      inFlight,
    );
  }
  const notation = `in flight ${printRange(bounds)} ${calls[printsAs]}`;
  const { record } = calls.member;
  noteUsed(record, calls);
  const claim = makeOwn<HeldInFlight>({
    claim: 'inFlight',
    record,
    range: bounds,
    calls,
    notation,
    [printsAs]: notation,
  });
  return noteWritten(record, 'claim', claim, inFlight);
}
