import { sameValues } from '../match/same-value.ts';
import { callsOf, type HeldEvent, journalOf } from '../pattern/event.ts';
import { eventDifferences } from '../pattern/fit.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import { distanceOf } from '../value/difference.ts';
import { changedSince } from './changed-since.ts';
import type { NearEntry } from './diagnosis.ts';
import { nearnessTo } from './nearness.ts';
import { sourceOf } from './source.ts';

/** How many of the nearest entries are told; those clearly further off than the first are left out. */
export const nearestKept = 3;

/** How many of the nearest entries are looked at closely. */
const lookedAt = 40;

/**
 * Those of some calls of a member that may be the one that a pattern means, the nearest first and among equally near
 * ones the earliest: a call counts if an argument that tells calls apart agrees, if it is the only one that is left, or if
 * all that are left are equal, and an argument agrees.
 *
 * @param all the entries of the record, among which an argument may tell or not
 * @param areOthers whether some calls match: then one that agrees in nothing that the pattern says is none of those meant
 */
export function nearestFirst(
  event: HeldEvent,
  entries: readonly HeldEntry[],
  all: readonly HeldEntry[],
  areOthers = false,
): readonly NearEntry[] {
  const nearness = nearnessTo(event, all);
  const looked = entries
    .map((entry) => ({ entry, distance: nearness.roughly(entry) }))
    .sort((one, other) => one.distance - other.distance || one.entry.id - other.entry.id)
    .slice(0, lookedAt)
    .map(({ entry }) => ({ entry, ...nearness.of(entry) }));
  const first = looked[0]?.entry.args ?? [];
  const areEqual = looked.every(({ entry }) => sameValues(entry.args, first));
  const ranked = looked
    .filter(
      ({ agrees, agreesInSaid, isAlike }) =>
        agrees ||
        (entries.length === 1 && (isAlike || callsOf(event).of === 'write')) ||
        (isAlike && agreesInSaid && areEqual),
    )
    .filter(({ agreesInSaid }) => agreesInSaid || !areOthers)
    .sort((one, other) => one.distance - other.distance || one.entry.id - other.entry.id);
  const farthest = (ranked[0]?.distance ?? 0) * 1.5;
  return ranked
    .filter(({ distance }) => distance <= farthest)
    .slice(0, nearestKept)
    .map(({ entry }) => withSource(nearEntry(event, entry), entry, all));
}

function withSource(near: NearEntry, entry: HeldEntry, all: readonly HeldEntry[]): NearEntry {
  const source = sourceOf(entry, near.differences, all);
  return source === undefined ? near : { ...near, source };
}

/** An entry with its differences from a pattern. */
export function nearEntry(event: HeldEvent, entry: HeldEntry): NearEntry {
  const differences = eventDifferences(event, entry);
  return {
    entry: entryData(entry),
    differences,
    distance: distanceOf(differences),
    changedSince: changedSince(entry, journalOf(event)),
  };
}
