import { forEachJournal } from './each-journal.ts';
import type { Journal } from './journal.ts';

/** The kind of a double, as far as a reader of its record needs to know. */
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

/** The placeholders of a ledger's doubles among recorded values: `[stand-in dome]`. */
export const doublesShown: (journal: Journal) => Map<string, object> = forEachJournal(
  () => new Map(),
);
