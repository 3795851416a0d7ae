import { callsOf, eventDifferences } from '../claim/event.ts';
import type { HeldNothingElse } from '../claim/nothing-else.ts';
import { type JudgedEntry, speaksOf } from '../claim/pattern.ts';
import { within } from '../claim/window.ts';
import { distanceOf } from '../match/difference.ts';
import type { HeldPlan } from '../plan/plan.ts';
import type { LedgerRecord, Member } from '../record/ledger-record.ts';
import { isOf } from '../record/member.ts';
import { entryData } from '../record/recording.ts';
import { patternsIn } from './account-for.ts';
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
  const accounted = new Set([...record.accounted, ...answeredByCountedPlans(record)]);
  const left = record.entries.filter(
    (entry) =>
      !accounted.has(entry.id) && within(window, entry.began) && isOfAny(entry, claim.doubles),
  );
  if (left.length === 0) return undefined;
  const [first] = left;
  return {
    code: 'unclaimedEntries',
    claim: claim.notation,
    culprits: left.slice(0, entriesTold).map(({ id }) => id),
    at: first === undefined ? undefined : entryData(first).site,
    entries: left
      .slice(0, entriesTold)
      .map((entry) => ({ entry: entryData(entry), nearest: nearestClaim(entry, view) })),
    count: left.length,
  };
}

function isOfAny({ label }: JudgedEntry, doubles: readonly string[] | undefined): boolean {
  return doubles === undefined || doubles.some((double) => isOf(label, double));
}

function answeredByCountedPlans({ members }: LedgerRecord): readonly number[] {
  const plans = members.flatMap((member) => (member as Member<HeldPlan>).plans);
  return plans.flatMap(({ counted, answered }) =>
    counted === undefined ? [] : answered.map(({ id }) => id),
  );
}

/** The claim of this check that speaks of the same member and is nearest to the entry. */
function nearestClaim(entry: JudgedEntry, { claims }: View): NearPlan | undefined {
  let nearest: (NearPlan & { readonly distance: number }) | undefined;
  for (const claim of claims) {
    for (const event of patternsIn(claim)) {
      if (!speaksOf(callsOf(event), entry)) continue;
      const differences = eventDifferences(event, entry);
      const distance = distanceOf(differences);
      if (nearest === undefined || distance < nearest.distance)
        nearest = { plan: claim.notation, differences, distance };
    }
  }
  return nearest;
}
