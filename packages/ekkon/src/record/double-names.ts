import { forEachJournal } from './each-journal.ts';
import type { Journal } from './journal.ts';

/** What a double is, as far as a reader of its record is told. */
export type DoubleKind = 'stand-in' | 'callable' | 'constructible' | 'real' | 'stream';

export const doubleKinds: readonly DoubleKind[] = [
  'stand-in',
  'callable',
  'constructible',
  'real',
  'stream',
];

/** The doubles of a ledger by their names, in the order in which they were made. */
export const doublesNamed: (journal: Journal) => Map<string, DoubleKind> = forEachJournal(
  () => new Map(),
);

/** What stands for the doubles of a ledger among the values that it recorded: `[stand-in dome]`. */
export const doublesShown: (journal: Journal) => Map<string, object> = forEachJournal(
  () => new Map(),
);
