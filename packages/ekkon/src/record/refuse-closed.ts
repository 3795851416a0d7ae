import type { LedgerRecord } from './ledger-record.ts';
import { refuse } from './refuse.ts';

/** Refuses what needs a ledger that still records. */
export function refuseClosed(
  { closed, name }: LedgerRecord,
  said: string,
  below: (...args: never[]) => unknown,
): void {
  if (!closed) return;
  refuse(
    `${said}: ledger "${name}" is closed, so that nothing more is to come of it. Do this before its test ends.`,
    below,
  );
}
