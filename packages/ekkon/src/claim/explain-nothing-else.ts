import { aboutClaim, type NearPlan, type UnclaimedEntries } from '../explain/diagnosis.ts';
import type { UnclaimedDiagnosis } from '../explain/finding.ts';
import { within } from '../explain/window.ts';
import { callsOf } from '../pattern/event.ts';
import { eventDifferences, speaksOf as patternSpeaksOf } from '../pattern/fit.ts';
import type { Site } from '../record/call-site.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import { distanceOf } from '../value/difference.ts';
import { type HeldNothingElse, speaksOf } from './nothing-else.ts';
import type { View, Wanting } from './parts.ts';

/** How many entries without a claim are listed. */
const entriesTold = 12;

/** The entries of some doubles that nothing covers. */
export function explainNothingElse(
  claim: HeldNothingElse,
  { evidence, window, wanted }: View,
): UnclaimedDiagnosis | undefined {
  const accounted = evidence.accounted();
  const left = evidence.journal.entries.filter(
    (entry) =>
      !accounted.has(entry.id) && within(window, entry.began) && speaksOf(claim, entry.target),
  );
  return left.length === 0
    ? undefined
    : { code: 'unclaimedEntries', ...aboutClaim(claim), ...tellUnclaimed(left, wanted) };
}

/** Reports entries that no claim covers, each with the nearest claim. */
export function tellUnclaimed(
  left: readonly HeldEntry[],
  wanted: readonly Wanting[],
): UnclaimedEntries & { readonly culprits: readonly number[]; readonly at: Site | undefined } {
  const told = left.slice(0, entriesTold);
  return {
    culprits: told.map(({ id }) => id),
    at: told[0] === undefined ? undefined : entryData(told[0]).site,
    entries: told.map((entry) => ({
      entry: entryData(entry),
      nearest: nearestClaim(entry, wanted),
    })),
    count: left.length,
  };
}

/** The nearest claim on the member of an entry. */
function nearestClaim(entry: HeldEntry, wanted: readonly Wanting[]): NearPlan | undefined {
  let nearest: (NearPlan & { readonly distance: number }) | undefined;
  for (const { notation, events } of wanted) {
    for (const event of events) {
      if (!patternSpeaksOf(callsOf(event), entry)) continue;
      const differences = eventDifferences(event, entry);
      const distance = distanceOf(differences);
      if (nearest === undefined || distance < nearest.distance)
        nearest = { plan: notation, differences, distance };
    }
  }
  return nearest;
}
