import type { JudgedEntry } from '../claim/pattern.ts';
import { compareArguments } from '../match/compare-arguments.ts';
import type { Difference } from '../match/difference.ts';
import { copyList, originalOf } from '../record/copy.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';

/**
 * Where the objects that were passed as arguments read otherwise now than when they were recorded:
 * `claimed` is what was recorded then, `recorded` what it reads now.
 */
export function changedSince(entry: JudgedEntry, record: LedgerRecord): readonly Difference[] {
  if (!('copies' in entry) || entry.copies === undefined) return [];
  const { args, copies } = entry;
  const live = args.map((arg) =>
    typeof arg === 'object' && arg !== null ? (originalOf(copies, arg) ?? arg) : arg,
  );
  const now = copyList(live, record).values;
  return compareArguments({ items: args, rest: false }, now).filter(
    ({ kind }) => kind !== 'opaque',
  );
}
