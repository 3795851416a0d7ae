import type { LedgerRecord } from './ledger-record.ts';

/**
 * Throws a `TypeError` whose stack begins where the caller's code called `below`.
 *
 * @param message what was given, and what to write instead
 */
export function refuse(message: string, below: (...args: never[]) => unknown): never {
  const error = new TypeError(message);
  Error.captureStackTrace?.(error, below);
  throw error;
}

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
