import { diffArrays } from 'diff';
import { compare } from '../match/compare.ts';
import { shortValue } from '../notation/value.ts';
import type { LoadedEntry } from '../record/read-lines.ts';
import type { Difference } from '../value/difference.ts';
import { encode } from '../value/encode.ts';
import { intrinsics } from '../value/intrinsics.ts';

/** How one entry of a record stands to another record. */
export type EntryChange =
  | { readonly is: 'gone' | 'new'; readonly entry: LoadedEntry }
  | { readonly is: 'moved'; readonly entry: LoadedEntry; readonly to: LoadedEntry }
  | {
      readonly is: 'changed';
      readonly entry: LoadedEntry;
      readonly to: LoadedEntry;
      readonly differences: readonly Difference[];
    };

/**
 * What differs between two records, aligned: entries that are the same in both are left out. Entries are the same if
 * member, kind, arguments and end are; by content, as they are written to files.
 */
export function compareRecords(
  before: readonly LoadedEntry[],
  after: readonly LoadedEntry[],
): readonly EntryChange[] {
  const [olds, news] = [before.map(keyOf), after.map(keyOf)];
  const changes: EntryChange[] = [];
  let [at, to] = [0, 0];
  let gone: LoadedEntry[] = [];
  let made: LoadedEntry[] = [];
  const settle = () => {
    changes.push(...paired(gone, made));
    gone = [];
    made = [];
  };
  for (const { added, removed, count } of diffArrays(olds, news)) {
    if (!added && !removed) {
      settle();
      at += count;
      to += count;
    } else if (removed) {
      gone.push(...before.slice(at, at + count));
      at += count;
    } else {
      made.push(...after.slice(to, to + count));
      to += count;
    }
  }
  settle();
  return withMoved(changes);
}

function keyOf({ label, kind, args, outcome }: LoadedEntry): string {
  return intrinsics.stringify([label, kind, encode(args, shortValue), encode(outcome, shortValue)]);
}

/** In one place, entries of the same member are the same ones, changed. */
function paired(
  gone: readonly LoadedEntry[],
  made: readonly LoadedEntry[],
): readonly EntryChange[] {
  const left = [...made];
  const changes = gone.map((entry): EntryChange => {
    const found = left.findIndex(({ label, kind }) => label === entry.label && kind === entry.kind);
    const [to] = found < 0 ? [] : left.splice(found, 1);
    if (to === undefined) return { is: 'gone', entry };
    return { is: 'changed', entry, to, differences: differencesOf(entry, to) };
  });
  return [...changes, ...left.map((entry): EntryChange => ({ is: 'new', entry }))];
}

function differencesOf(entry: LoadedEntry, to: LoadedEntry): readonly Difference[] {
  const differences = compare(entry.args, to.args);
  return differences.length > 0 ? differences : compare(entry.outcome, to.outcome);
}

/** An entry that is gone in one place and new in another has moved. */
function withMoved(changes: readonly EntryChange[]): readonly EntryChange[] {
  const left = changes.filter((change) => change.is === 'new');
  const moved = new Set<EntryChange>();
  const found = changes.map((change): EntryChange => {
    if (change.is !== 'gone') return change;
    const key = keyOf(change.entry);
    const to = left.find((each) => !moved.has(each) && keyOf(each.entry) === key);
    if (to === undefined) return change;
    moved.add(to);
    return { is: 'moved', entry: change.entry, to: to.entry };
  });
  return found.filter((change) => !moved.has(change));
}
