import { doublesNamed } from '../record/double-names.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { judgementsOn, levelsFor } from './judgements.ts';

/** The parts of a ledger to weigh: calls of doubles that are not loose, and outcomes of real members only. */
export function alteringOn(journal: Journal): {
  counts(double: string): boolean;
  isReal(entry: HeldEntry): boolean;
} {
  const { levels } = judgementsOn(journal);
  const kinds = doublesNamed(journal);
  return {
    counts(double) {
      const own = levelsFor(journal, double);
      return own === levels || own.unfinishedCall !== 'allow' || own.uncheckedClaim !== 'allow';
    },
    isReal: ({ target, more }) => kinds.get(target.double) === 'real' && more?.answer === undefined,
  };
}
