import type { HeldEntry, Journal } from '../record/journal.ts';
import { compareRecords, type Pair } from './compare-records.ts';
import { asRead, readLastPass } from './last-pass.ts';
import { Steadiness } from './unsteady.ts';

/** One row of two records beside each other: a call of the earlier one, of the later one, or the same call of both. */
export interface SideBySideRow {
  readonly was: HeldEntry | undefined;
  readonly now: HeldEntry | undefined;
  /** `moved`: both records have the call, at another place among the others. */
  readonly is: 'same' | 'changed' | 'gone' | 'new' | 'moved';
}

/**
 * The record of the last passing run beside a later one: pairs stand in one row, and an entry without a partner has a
 * row of its own, at its place.
 *
 * @param kept the text of the earlier record
 * @returns `undefined` if it cannot be read, or if they have too little in common
 */
export function sideBySide(kept: string, journal: Journal): readonly SideBySideRow[] | undefined {
  const lastPass = readLastPass(kept);
  if (lastPass === undefined) return undefined;
  const steadiness = new Steadiness(lastPass);
  const after = asRead(journal);
  const comparison = compareRecords(lastPass.journal, after, steadiness);
  if (comparison === undefined) return undefined;
  const partners = inOrder(comparison.pairs);
  const moved = new Set(
    comparison.pairs.flatMap(({ was, now }) => (partners.get(was) === now ? [] : [was, now])),
  );
  const changed = new Set<HeldEntry>();
  for (const change of comparison.changes)
    if ('was' in change && 'now' in change && steadiness.steadyPart(change) !== undefined)
      changed.add(change.now);
  const rows: SideBySideRow[] = [];
  let next = 0;
  const addNew = (until?: HeldEntry) => {
    for (; next < after.entries.length && after.entries[next] !== until; next++) {
      const now = after.entries[next];
      if (now === undefined) continue;
      rows.push({ was: undefined, now, is: moved.has(now) ? 'moved' : 'new' });
    }
  };
  for (const was of lastPass.journal.entries) {
    const now = partners.get(was);
    if (now === undefined) {
      rows.push({ was, now, is: moved.has(was) ? 'moved' : 'gone' });
      continue;
    }
    addNew(now);
    rows.push({ was, now, is: changed.has(now) ? 'changed' : 'same' });
    next++;
  }
  addNew();
  return rows;
}

/** The pairs that stand in the same order in both records: those that were aligned, and those between them. */
function inOrder(pairs: readonly Pair[]): ReadonlyMap<HeldEntry, HeldEntry> {
  const aligned = pairs.filter(({ isInPlace }) => isInPlace);
  const before = (at: number, side: 'was' | 'now') =>
    aligned.filter((pair) => pair[side].id < at).length;
  const found = new Map<HeldEntry, HeldEntry>();
  let last = 0;
  for (const { was, now, isInPlace } of pairs.toSorted((one, other) => one.was.id - other.was.id)) {
    const fits = isInPlace || before(was.id, 'was') === before(now.id, 'now');
    if (!fits || now.id <= last) continue;
    found.set(was, now);
    last = now.id;
  }
  return found;
}
