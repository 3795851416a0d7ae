import type { ChangeGroup } from '../explain/since.ts';
import { shortValue } from '../notation/value.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Difference } from '../value/difference.ts';
import { encode } from '../value/encode.ts';
import { intrinsics } from '../value/intrinsics.ts';
import type { FoundChange } from './compare-records.ts';

/** Changes that are told as one, and the ids of later calls with the same differences. */
export interface FoundGroup {
  readonly changes: [FoundChange, ...FoundChange[]];
  readonly again: Set<number>;
}

/**
 * Groups changes: calls that are gone, or new, between the same two calls; and differences that occur again in later
 * calls, in the same way, with the same replacement, or before the same end: they belong to the first of them.
 *
 * @param changes in the order of time
 */
export function groupChanges(changes: readonly FoundChange[]): readonly FoundGroup[] {
  const groups: FoundGroup[] = [];
  const runs = new Map<string, FoundGroup>();
  const leaves = new Map<string, FoundGroup>();
  const changed = new Set<HeldEntry>();
  for (const change of changes) {
    // How a call ends, whose arguments are others, comes of that.
    if (change.is === 'outcome' && changed.has(change.now)) continue;
    if (change.is === 'gone' || change.is === 'new') {
      const behind = change.is === 'gone' ? change.after : change.behind;
      const key = `${change.is} ${behind?.id}`;
      const known = runs.get(key);
      if (known === undefined) runs.set(key, begin(groups, change));
      else known.changes.push(change);
      continue;
    }
    changed.add(change.now);
    const keys = keysOf(change);
    const known = keys.flatMap((key) => leaves.get(key) ?? []);
    if (keys.length > 0 && known.length === keys.length) {
      for (const group of known) group.again.add(change.now.id);
      continue;
    }
    const group = begin(groups, change);
    for (const key of keys) if (!leaves.has(key)) leaves.set(key, group);
  }
  return groups;
}

function begin(groups: FoundGroup[], change: FoundChange): FoundGroup {
  const group: FoundGroup = { changes: [change], again: new Set() };
  groups.push(group);
  return group;
}

/** Texts that a change has in common with those that may be told with it. */
function keysOf(change: Exclude<FoundChange, { readonly is: 'gone' | 'new' }>): readonly string[] {
  if ('differences' in change) return change.differences.map(leafOf);
  const other =
    change.is === 'replaced' ? change.was : 'beside' in change ? change.beside : undefined;
  if (other === undefined || change.is === 'moved') return [];
  return [
    `${change.is} ${change.now.target.label} ${other.target.label} ${change.is === 'ended' && change.isBefore}`,
  ];
}

/** A text that differences have in common which lead from the same value to the same value. */
function leafOf(difference: Difference): string {
  const side = (name: 'expected' | 'received') =>
    name in difference ? encode(difference[name], shortValue) : null;
  return intrinsics.stringify([difference.kind, side('expected'), side('received')]);
}

/** How many calls some groups are about. */
export function callsIn(groups: readonly Pick<ChangeGroup, 'changes' | 'again'>[]): number {
  const calls = new Set<string>();
  for (const { changes, again } of groups) {
    for (const change of changes)
      calls.add('now' in change ? `#${change.now.id}` : `was #${change.was.id}`);
    for (const id of again) calls.add(`#${id}`);
  }
  return calls.size;
}
