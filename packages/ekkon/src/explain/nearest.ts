import { eventDifferences, type HeldEvent, memberOf } from '../claim/event.ts';
import type { JudgedEntry } from '../claim/pattern.ts';
import { distanceOf } from '../match/difference.ts';
import { entryData } from '../record/recording.ts';
import { changedSince } from './changed-since.ts';
import type { NearEntry } from './finding.ts';

/** How many of the nearest entries are told; those clearly further off than the first are left out. */
const nearestKept = 3;

/** The nearest of some calls of the member; among equally near ones, the latest first. */
export function nearestFirst(
  event: HeldEvent,
  entries: readonly JudgedEntry[],
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
    .map((near) => ({
      ...near,
      entry: entryData(near.entry),
      changedSince: changedSince(near.entry, memberOf(event).record),
    }));
}
