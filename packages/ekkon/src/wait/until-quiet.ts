import { pendingCalls } from '../explain/pending-calls.ts';
import { shortValue } from '../notation/value.ts';
import { captureSite, readSite } from '../record/call-site.ts';
import { nextTurn } from '../record/clock.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { refuse } from '../record/refuse.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { asFinding } from '../report/verdict.ts';
import { errorAt } from './error-at.ts';
import { isDuration } from './is-duration.ts';

/** How long to wait for quiet unless told otherwise, in milliseconds. */
const usualWithin = 1_000;

/**
 * Waits until no call of a ledger is pending, those aside that were planned to stall. What a call that
 * settled leads to is waited for as well: it is quiet where nothing is pending after a turn of its own.
 */
export async function untilQuiet(
  record: LedgerRecord,
  within: unknown = usualWithin,
  below: (...args: never[]) => unknown,
): Promise<void> {
  if (!isDuration(within)) {
    refuse(
      `untilQuiet: within is a number of milliseconds from 0 on, and was given ${shortValue(within)}. Write untilQuiet({ within: 500 }).`,
      below,
    );
  }
  refuseClosed(record, 'untilQuiet()', below);
  const captured = captureSite(below);
  const { clock } = record;
  const started = clock.now();
  let isOver = false;
  let wake = () => {};
  const cancel = clock.after(within, () => {
    isOver = true;
    wake();
  });
  try {
    do {
      while (!isQuiet(record) && !isOver && !record.closed) {
        await new Promise<void>((resolve) => {
          wake = resolve;
          record.whenSettled.add(wake);
        });
        record.whenSettled.delete(wake);
      }
      if ((isOver || record.closed) && !isQuiet(record)) break;
      await new Promise<void>(nextTurn);
    } while (!isQuiet(record));
  } finally {
    cancel();
  }
  if (isQuiet(record)) return;
  if (record.closed) {
    refuse(`untilQuiet(): ledger "${record.name}" was closed while this was waited for.`, below);
  }
  const pending = pendingCalls(record).filter(({ stalls }) => !stalls);
  const finding = asFinding({
    code: 'stillPending',
    claim: 'until quiet',
    culprits: pending.map(({ entry }) => entry.id),
    at: pending[0]?.entry.site ?? readSite(captured),
    pending,
  });
  record.failed = true;
  throw errorAt(captured, {
    holds: false,
    ledger: record.name,
    closing: false,
    claims: 1,
    findings: [finding],
    waited: { ended: 'time', after: clock.now() - started, pending: [] },
  });
}

function isQuiet({ pending }: LedgerRecord): boolean {
  for (const { on } of pending.values()) if (on !== 'nothing') return false;
  return true;
}
