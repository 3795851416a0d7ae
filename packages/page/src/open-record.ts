import type { Entry, EntryKind } from '#core/record/entry.ts';
import { entryData } from '#core/record/entry-data.ts';
import type { HeldEntry, Journal } from '#core/record/journal.ts';
import { fromLines } from '#core/record/read-lines.ts';
import type { PageRecord } from '#core/report/page-data.ts';
import { openJudgements } from '#core/rule/judgements.ts';
import { levelsIn } from '#core/rule/rules.ts';

/** An entry in the lanes; its content is read when it is shown. */
export interface LanedEntry {
  readonly id: number;
  readonly kind: EntryKind;
  readonly double: string;
  readonly began: number;
  readonly ended: number | undefined;
  readonly held: HeldEntry;
  /** The entry of the same member before it. */
  readonly before: HeldEntry | undefined;
}

/** A record that is looked at. */
export interface OpenRecord {
  readonly record: PageRecord;
  readonly name: string;
  readonly journal: Journal;
  readonly truncated: boolean;
  readonly entries: readonly LanedEntry[];
  /** An entry by its number, with all that was recorded of it. */
  entry(id: number): Entry | undefined;
}

/**
 * Reads a record for the page.
 *
 * @throws TypeError if its text is not a record
 */
export function openRecord(record: PageRecord): OpenRecord {
  const { journal, truncated } = fromLines(record.text);
  journal.closed = true;
  openJudgements(journal, levelsIn(record.rules));
  const lasts = new Map<string, HeldEntry>();
  const before = (held: HeldEntry) => {
    const key = `${held.target.label} ${held.kind}`;
    const last = lasts.get(key);
    lasts.set(key, held);
    return last;
  };
  return {
    record,
    name: journal.name,
    journal,
    truncated,
    entries: journal.entries.map((held) => ({
      id: held.id,
      kind: held.kind,
      double: held.target.double,
      began: held.began,
      ended: held.ended,
      held,
      before: before(held),
    })),
    entry(id) {
      const held = journal.entries[id - 1];
      return held === undefined ? undefined : entryData(held);
    },
  };
}
