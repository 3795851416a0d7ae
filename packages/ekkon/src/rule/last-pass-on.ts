import { forEachJournal } from '../record/each-journal.ts';
import type { Journal } from '../record/journal.ts';

/** The last passing run of a ledger's test. */
export interface LastPassOn {
  /** The text that its store kept, if it kept one. */
  kept: string | undefined;
  /** The ticks at which checks and waits were over in this run, one after the other. */
  readonly checks: number[];
  /** Why the record of this run was not kept, though it was to be. */
  leftOut: string | undefined;
}

export const lastPassOn: (journal: Journal) => LastPassOn = forEachJournal(() => ({
  kept: undefined,
  checks: [],
  leftOut: undefined,
}));

/** Notes that a check or a wait is over: later entries were not there for it. */
export function noteCheckOver(journal: Journal): void {
  lastPassOn(journal).checks.push(journal.tick);
}
