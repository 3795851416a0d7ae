import { shortValue } from '../notation/value.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { makeOwn, printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { tied } from '../record/tie.ts';
import { noteWritten } from '../record/written.ts';
import type { Claim } from './count.ts';

/** A claim that there are no entries beside those claimed, behind its public type. */
export interface HeldNothingElse extends Claim {
  readonly claim: 'nothingElse';
  readonly record: LedgerRecord;
  /** The doubles it speaks of; `undefined`: all of the ledger. */
  readonly doubles: readonly string[] | undefined;
  readonly [printsAs]: string;
}

/**
 * Claims that every entry of these doubles is accounted for: by a claim that wants it (`never` wants
 * none), by a counted plan, or because the test looked at it with `entries(pattern)`. It is judged after
 * the other claims of its check.
 *
 * @param of doubles of one ledger, or the ledger itself
 * @throws TypeError where one of them is neither, or where two ledgers are mixed
 * @example
 * check(once(call(dome.open)), once(call(dome.close)), nothingElse(dome));
 */
export function nothingElse(...of: [object, ...object[]]): Claim {
  const held = of.map((each) => {
    const found = tied(each);
    if (found === undefined) {
      refuse(
        `nothingElse() takes doubles or a ledger, and was given ${shortValue(each)}. Write nothingElse(dome, mount).`,
        nothingElse,
      );
    }
    return found;
  });
  const [first] = held;
  if (first === undefined)
    refuse(
      'nothingElse() was given no double. Write nothingElse(ledger) for all of them.',
      nothingElse,
    );
  const { record } = first;
  const other = held.find((each) => each.record !== record);
  if (other !== undefined) {
    refuse(
      `nothingElse() was given doubles of two ledgers, "${record.name}" and "${other.record.name}".`,
      nothingElse,
    );
  }
  const whole = held.some(({ is }) => is === 'ledger');
  const doubles = whole
    ? undefined
    : held.map((each) =>
        each.is === 'member' ? each.label : each.is === 'ledger' ? '' : each.name,
      );
  const notation = `nothing else ${doubles?.join(', ') ?? 'ledger'}`;
  const claim = makeOwn<HeldNothingElse>({
    claim: 'nothingElse',
    record,
    doubles,
    notation,
    [printsAs]: notation,
  });
  return noteWritten(record, 'claim', claim, nothingElse);
}
