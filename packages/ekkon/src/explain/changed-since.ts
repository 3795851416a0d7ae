import { compareArguments } from '../match/compare-arguments.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { copyList } from '../value/copy.ts';
import type { Difference } from '../value/difference.ts';

/**
 * Where the objects that were passed as arguments have changed since they were recorded: `expected` is the recorded
 * value, `received` the current one.
 */
export function changedSince(entry: HeldEntry, journal: Journal): readonly Difference[] {
  const { args, given } = entry;
  if (given === undefined) return [];
  const now = copyList(given.args, journal).values;
  return compareArguments({ items: args, rest: false }, now).filter(
    ({ kind }) => kind !== 'opaque',
  );
}
