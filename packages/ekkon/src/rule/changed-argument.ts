import { changedSince } from '../explain/changed-since.ts';
import { aboutEntry } from '../explain/diagnosis.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { brokenAt } from './broken.ts';
import { isAnywhere, levelOn } from './judgements.ts';
import type { Broken, Rule } from './rule.ts';

/** Arguments that were changed after the call. */
export const changedArgument: Rule = {
  levels: { loose: 'allow', usual: 'note', careful: 'note', strict: 'note' },
  atClose: ({ journal }) => changedArguments(journal, 'fail'),
};

/**
 * Arguments that read otherwise now than when they were recorded. To find them, all of them are copied once
 * more: if the rule only notes them, that waits until somebody asks for the notes.
 */
export function changedArguments(
  journal: Journal,
  level: Broken['level'],
  entries: readonly HeldEntry[] = journal.entries,
): readonly Broken[] {
  if (!isAnywhere(journal, 'changedArgument', [level])) return [];
  return entries.flatMap((entry) => {
    if (entry.given === undefined) return [];
    if (levelOn(journal, entry.target.double, 'changedArgument') !== level) return [];
    const changes = changedSince(entry, journal);
    if (changes.length === 0) return [];
    return brokenAt(level, () => ({
      code: 'changedArgument',
      claim: 'rule changedArgument',
      ...aboutEntry(entry),
      changes,
    }));
  });
}
