import { originalOf } from '../value/copy.ts';
import { present } from '../value/present.ts';
import type { OriginalOf } from '../value/showing.ts';
import type { Entry, Outcome } from './entry.ts';
import { entryData } from './entry-data.ts';
import type { HeldEntry } from './journal.ts';

/** An entry as plain data that somebody else's code may have: nothing that is done to it is done to the record. */
export function shownEntry(entry: HeldEntry): Entry {
  const data = entryData(entry);
  const { given, more } = entry;
  if (given === undefined && more?.resultCopies === undefined) return data;
  const original: OriginalOf = (copy) =>
    originalOf(given?.copies, copy) ?? originalOf(more?.resultCopies, copy);
  return {
    ...data,
    args: data.args.map((arg) => present(arg, original)),
    outcome: shownOutcome(data.outcome, original),
  };
}

function shownOutcome(outcome: Outcome, original: OriginalOf): Outcome {
  if ('value' in outcome) return { ...outcome, value: present(outcome.value, original) };
  return 'reason' in outcome ? { ...outcome, reason: present(outcome.reason, original) } : outcome;
}
