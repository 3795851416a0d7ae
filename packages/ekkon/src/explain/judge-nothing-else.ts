import type { HeldClaim } from '../claim/claim.ts';
import { callsOf, eventDifferences } from '../claim/event.ts';
import type { HeldNothingElse } from '../claim/nothing-else.ts';
import { type JudgedEntry, speaksOf } from '../claim/pattern.ts';
import { within } from '../claim/window.ts';
import { distanceOf } from '../match/difference.ts';
import { isOf } from '../record/member.ts';
import { entryData } from '../record/recording.ts';
import { accountedIn, wantedBy } from './accounted.ts';
import type { NearPlan, UnclaimedDiagnosis } from './finding.ts';
import type { View } from './view.ts';

/** How many of the entries that no claim speaks of are told. */
const entriesTold = 12;

/** Judges whether every entry of some doubles is accounted for. */
export function judgeNothingElse(
  claim: HeldNothingElse,
  view: View,
): UnclaimedDiagnosis | undefined {
  const { record, window } = view;
  const accounted = accountedIn(record);
  const left = record.entries.filter(
    (entry) =>
      !accounted.has(entry.id) && within(window, entry.began) && isOfAny(entry, claim.doubles),
  );
  return left.length === 0
    ? undefined
    : { code: 'unclaimedEntries', claim: claim.notation, ...tellUnclaimed(left, view.claims) };
}

/** Tells of entries that no claim speaks of, each with the claim that came nearest to it. */
export function tellUnclaimed(
  left: readonly JudgedEntry[],
  claims: readonly HeldClaim[],
): Omit<UnclaimedDiagnosis, 'code' | 'claim'> {
  const told = left.slice(0, entriesTold);
  return {
    culprits: told.map(({ id }) => id),
    at: told[0] === undefined ? undefined : entryData(told[0]).site,
    entries: told.map((entry) => ({
      entry: entryData(entry),
      nearest: nearestClaim(entry, claims),
    })),
    count: left.length,
  };
}

function isOfAny({ label }: JudgedEntry, doubles: readonly string[] | undefined): boolean {
  return doubles === undefined || doubles.some((double) => isOf(label, double));
}

/** The claim that speaks of the same member and is nearest to the entry. */
function nearestClaim(entry: JudgedEntry, claims: readonly HeldClaim[]): NearPlan | undefined {
  let nearest: (NearPlan & { readonly distance: number }) | undefined;
  for (const claim of claims) {
    for (const event of wantedBy(claim)) {
      if (!speaksOf(callsOf(event), entry)) continue;
      const differences = eventDifferences(event, entry);
      const distance = distanceOf(differences);
      if (nearest === undefined || distance < nearest.distance)
        nearest = { plan: claim.notation, differences, distance };
    }
  }
  return nearest;
}
