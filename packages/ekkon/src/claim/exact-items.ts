import { printLine, shortValue } from '../notation/value.ts';
import { copyList } from '../record/copy.ts';
import type { LedgerRecord, Member } from '../record/ledger-record.ts';
import { ownPrinting, printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { noteWritten } from '../record/written.ts';
import type { Claim } from './count.ts';
import type { Fitting } from './pattern.ts';
import { type Stream, streamOf } from './streams.ts';

/** A claim on all the items of a stream, behind its public type. */
export interface HeldExactItems extends Claim {
  readonly claim: 'exactItems';
  readonly record: LedgerRecord;
  readonly member: Member;
  /** The items claimed, values and matchers. */
  readonly items: readonly unknown[];
  readonly [printsAs]: string;
}

/**
 * Claims that a stream gave exactly these items, in this order. Whether it came to its end is said with
 * `completed`.
 *
 * @throws TypeError where it is given no stream, or no list
 * @example
 * const rain = ledger.follow(station.readings(), 'rain');
 * await reach(exactItems(rain, [0, 0, about(0.4)]));
 */
export function exactItems<T>(stream: Stream<T>, items: readonly Fitting<T>[]): Claim {
  const { record, member, name } = streamOf(stream, exactItems);
  if (!Array.isArray(items)) {
    refuse(
      `exactItems(${name}, …) takes a list of items, and was given ${shortValue(items)}. Write exactItems(${name}, [${shortValue(items)}]).`,
      exactItems,
    );
  }
  const claimed = copyList(items, record).values;
  const claim = makeItemsClaim({ claim: 'exactItems', record, member, items: claimed });
  return noteWritten(record, 'claim', claim, exactItems) as unknown as Claim;
}

const makeItemsClaim = ownPrinting<Omit<HeldExactItems, 'notation' | typeof printsAs>>(
  ({ member, items }) => `exact items ${member.label} ${printLine(items, { items: 12 })}`,
  [printsAs, 'notation'],
);
