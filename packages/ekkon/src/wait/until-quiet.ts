import { pendingCalls } from '../explain/pending-calls.ts';
import { shortValue } from '../notation/value.ts';
import { captureSite, readSite } from '../record/call-site.ts';
import { nextTurn } from '../record/clock.ts';
import type { Journal } from '../record/journal.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { errorAt } from '../report/claim-error.ts';
import { makeVerdict } from '../report/verdict.ts';
import { noteFailed } from '../rule/judgements.ts';
import { noteCheckOver } from '../rule/last-pass-on.ts';
import type { Below } from '../value/below.ts';
import { inQuotes } from '../value/escape.ts';
import { refuse } from '../value/refuse.ts';
import { isDuration } from './is-duration.ts';
import { onClose } from './waits.ts';
import { watchersOn } from './watchers.ts';

/** How long to wait for quiet unless told otherwise, in milliseconds. */
const usualWithin = 1_000;

/**
 * Waits until no call of a ledger is pending, except calls that were planned to stall. It also waits for calls that a
 * settled call leads to: it is quiet if nothing is pending one turn later. Only ending calls, and the time-out, wake
 * it.
 */
export async function untilQuiet(
  journal: Journal,
  within: unknown = usualWithin,
  below: Below,
): Promise<void> {
  if (!isDuration(within)) {
    refuse(
      `untilQuiet: within must be a number of milliseconds, 0 or more, not ${shortValue(within)}. Write untilQuiet({ within: 500 }).`,
      below,
    );
  }
  refuseClosed(journal, 'untilQuiet()', below);
  const captured = captureSite(below);
  const { clock } = journal;
  const started = clock.now();
  let isOver = false;
  let wake = () => {};
  const cancel = clock.after(within, () => {
    isOver = true;
    wake();
  });
  const removers = [
    typeof cancel === 'function' ? cancel : () => {},
    watchersOn(journal).addEnds(() => {
      if (isQuiet(journal)) wake();
    }),
    onClose(journal, () => wake()),
  ];
  const isDone = () => isOver || journal.closed;
  try {
    do {
      while (!isQuiet(journal) && !isDone()) {
        await new Promise<void>((resolve) => {
          wake = resolve;
        });
      }
      if (isDone() && !isQuiet(journal)) break;
      await new Promise<void>(nextTurn);
    } while (!isQuiet(journal));
  } finally {
    for (const remove of removers) remove();
  }
  if (isQuiet(journal)) return noteCheckOver(journal);
  if (journal.closed) {
    refuse(
      `untilQuiet(): ledger ${inQuotes(journal.name)} was closed while this was waited for.`,
      below,
    );
  }
  const pending = pendingCalls(journal).filter(({ stalls }) => !stalls);
  const found = {
    code: 'stillPending',
    claim: 'until quiet',
    of: undefined,
    culprits: pending.map(({ entry }) => entry.id),
    at: pending[0]?.entry.site ?? readSite(captured),
    pending,
  } as const;
  const verdict = {
    ...makeVerdict(journal, [found], { claims: 1, closing: false }),
    waited: { ended: 'time', after: clock.now() - started, pending: [] },
  } as const;
  noteCheckOver(journal);
  noteFailed(journal, { verdict, claims: [] });
  throw errorAt(captured, verdict);
}

function isQuiet({ pending }: Journal): boolean {
  for (const { on } of pending.values()) if (on !== 'nothing') return false;
  return true;
}
