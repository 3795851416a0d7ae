import { type HeldEvent, journalOf } from '../pattern/event.ts';
import { eventDifferences } from '../pattern/fit.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import { distanceOf } from '../value/difference.ts';
import { changedSince } from './changed-since.ts';
import type { NearEntry } from './diagnosis.ts';

/** How many of the nearest entries are told; those clearly further off than the first are left out. */
const nearestKept = 3;

/** The nearest of some entries of the member; among equally near ones, the latest first. */
export function nearestFirst(
  event: HeldEvent,
  entries: readonly HeldEntry[],
): readonly NearEntry[] {
  const ranked = entries
    .map((entry) => {
      const differences = eventDifferences(event, entry);
      return { entry, differences, distance: distanceOf(differences) };
    })
    .sort((one, other) => one.distance - other.distance || other.entry.id - one.entry.id);
  const farthest = (ranked[0]?.distance ?? 0) * 1.5;
  return ranked
    .filter(({ distance }) => distance <= farthest)
    .slice(0, nearestKept)
    .map(({ entry }) => nearEntry(event, entry));
}

/** An entry with what sets it apart from a pattern. */
export function nearEntry(event: HeldEvent, entry: HeldEntry): NearEntry {
  const differences = eventDifferences(event, entry);
  return {
    entry: entryData(entry),
    differences,
    distance: distanceOf(differences),
    changedSince: changedSince(entry, journalOf(event)),
  };
}
