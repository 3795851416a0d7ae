import type { Below } from '../value/below.ts';
import { inQuotes } from '../value/escape.ts';
import { refuse } from '../value/refuse.ts';
import type { Journal } from './journal.ts';

/** Refuses an operation that needs a ledger that still records. */
export function refuseClosed({ closed, name }: Journal, said: string, below: Below): void {
  if (!closed) return;
  refuse(
    `${said}: ledger ${inQuotes(name)} is closed; it records nothing more. Do this before its test ends.`,
    below,
  );
}
