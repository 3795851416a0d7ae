import { claimOf, type HeldClaim } from '../claim/kinds.ts';
import { noteClaimUsed } from '../claim/make-claim.ts';
import { shortValue } from '../notation/value.ts';
import { plansIn } from '../plan/plan.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Journal } from '../record/journal.ts';
import { tied } from '../record/tie.ts';
import { alteringOn } from '../rule/altering.ts';
import { evidenceOn } from '../rule/at-check.ts';
import { judgementsOn } from '../rule/judgements.ts';
import type { Below } from '../value/below.ts';
import { inQuotes } from '../value/escape.ts';
import { refuse } from '../value/refuse.ts';
import { holdingOn, weighRecord } from './weigh-record.ts';
import { makeWeight, type Weight } from './weight.ts';

/**
 * How much of a ledger's record claims would notice, those that it has judged if none is given.
 *
 * @param below the public function that was called
 */
export function weighLedger(on: unknown, claims: readonly Claim[], below: Below): Weight {
  const held = tied(on);
  if (held?.is !== 'ledger') {
    refuse(
      `weigh() takes a ledger and claims, and was given ${shortValue(on)}. Write weigh(ledger, once(call(dome.open))).`,
      below,
    );
  }
  const { journal } = held;
  const given = claims.map((claim) => {
    const known = claimOf(claim);
    if (known === undefined)
      refuse(`weigh() takes claims, and was given ${shortValue(claim)}.`, below);
    if (known.journal !== journal)
      refuse(
        `weigh(): ${shortValue(claim)} is a claim on ledger ${inQuotes(known.journal.name)}, and "${journal.name}" is weighed.`,
        below,
      );
    noteClaimUsed(known);
    return known;
  });
  const evidence = evidenceOn(journal);
  const asked = given.length > 0 ? given : judgedOn(journal);
  const weighed = holdingOn(asked, evidence);
  const fails = given.find((claim) => !weighed.includes(claim));
  if (fails !== undefined)
    refuse(
      `weigh(): \`${fails.notation}\` does not hold on ledger ${inQuotes(journal.name)}: only claims that hold can be weighed.`,
      below,
    );
  if (weighed.length === 0)
    refuse(
      `weigh(): ledger ${inQuotes(journal.name)} has judged no claim that holds, and none was given. Write weigh(ledger, once(call(dome.open))).`,
      below,
    );
  return makeWeight(weighRecord(weighed, evidence, alteringOn(journal)));
}

/** The claims that a ledger has judged, and the requirements of its plans. */
export function judgedOn(journal: Journal): readonly HeldClaim[] {
  const judged = judgementsOn(journal).judged.map(({ claim }) => claim);
  const required = plansIn(journal).flatMap(({ counted }) => counted ?? []);
  return [...new Set([...judged, ...required])];
}
