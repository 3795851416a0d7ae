import { changedSince } from '../explain/changed-since.ts';
import { aboutEntry } from '../explain/diagnosis.ts';
import type { HeldEntry, LedgerRecord, Level } from '../record/ledger-record.ts';
import { rulesOf } from '../record/member.ts';
import { type Broken, brokenAt } from './broken.ts';

/**
 * Arguments that read otherwise now than when they were recorded. To find them, all of them are copied once
 * more: where the rule only notes them, that waits until somebody asks for the notes.
 */
export function changedArguments(
  record: LedgerRecord,
  level: Exclude<Level, 'allow'>,
  entries: readonly HeldEntry[] = record.entries,
): readonly Broken[] {
  const { rules, ruled } = record;
  if (![rules, ...ruled.map((each) => each.rules)].some((each) => each.changedArgument === level))
    return [];
  return entries.flatMap((entry) => {
    if (entry.copies === undefined || rulesOf(record, entry.label).changedArgument !== level)
      return [];
    const changes = changedSince(entry, record);
    if (changes.length === 0) return [];
    return brokenAt(level, () => ({
      code: 'changedArgument',
      claim: 'rule changedArgument',
      ...aboutEntry(entry),
      changes,
    }));
  });
}
