import type { HeldClaim } from '../claim/claim.ts';
import { countFor, type HeldCountClaim, inRange } from '../claim/count.ts';
import { type HeldDuring, stretchesOf } from '../claim/during.ts';
import { eventFit, type HeldEvent, tickOf } from '../claim/event.ts';
import { within } from '../claim/window.ts';
import { printsAs } from '../record/prints-as.ts';
import { entryData } from '../record/recording.ts';
import { explainCount } from './explain-count.ts';
import { explainDrift } from './explain-drift.ts';
import type { Diagnosis, VacuousDiagnosis } from './finding.ts';
import { judgeInFlight } from './judge-in-flight.ts';
import { judgeItems } from './judge-items.ts';
import { judgeNothingElse } from './judge-nothing-else.ts';
import { judgeOrder } from './judge-order.ts';
import { judgePrecedence } from './judge-precedence.ts';
import type { View } from './view.ts';

/**
 * Judges one claim against a record: nothing where it holds, else why it does not. Where it depends on
 * calls of which it cannot be told whether they fit, it does not hold.
 */
export function judge(claim: HeldClaim, view: View): Diagnosis | undefined {
  switch (claim.claim) {
    case 'count':
      return judgeCount(claim, view);
    case 'conforms':
      return explainDrift(claim, view.record);
    case 'order':
      return judgeOrder(claim, view);
    case 'onlyAfter':
    case 'leadsTo':
      return judgePrecedence(claim, view);
    case 'inFlight':
      return judgeInFlight(claim, view);
    case 'exactItems':
      return judgeItems(claim, view);
    case 'during':
      return judgeDuring(claim, view);
    case 'nothingElse':
      return judgeNothingElse(claim, view);
  }
}

function judgeCount(claim: HeldCountClaim, { record, window }: View): Diagnosis | undefined {
  const count = countFor(claim.held, record.entries, window);
  const least = count.fitting.length;
  const most = least + count.undecided.length;
  if (inRange(claim.range, least) && inRange(claim.range, most)) return undefined;
  const entries = record.entries.filter((entry) => within(window, entry.began));
  return explainCount(claim, entries, count);
}

/** Judges each stretch, and tells of the first in which the claim does not hold. */
function judgeDuring(claim: HeldDuring, view: View): Diagnosis | undefined {
  for (const { after, before, from } of stretchesOf(claim, view.record.entries, view.window)) {
    const diagnosis = judge(claim.inner, { ...view, window: { after, before } });
    if (diagnosis === undefined) continue;
    const stretch = { after, before, from: from === undefined ? undefined : entryData(from) };
    return { ...diagnosis, claim: claim.notation, stretch };
  }
  return undefined;
}

/** Whether a claim that holds does so since what it speaks of never occurred. */
export function vacuity(claim: HeldClaim, view: View): VacuousDiagnosis | undefined {
  const never = neverOccurred(claim, view);
  if (never === undefined) return undefined;
  return { code: 'vacuousClaim', claim: claim.notation, culprits: [], at: undefined, never };
}

function neverOccurred(claim: HeldClaim, view: View): string | undefined {
  switch (claim.claim) {
    case 'onlyAfter':
    case 'leadsTo':
      return occurs(claim.needing, view) ? undefined : claim.needing[printsAs];
    case 'during': {
      const stretches = stretchesOf(claim, view.record.entries, view.window);
      if (stretches.length === 0) return claim.from?.[printsAs];
      const inner = stretches.map((window) => neverOccurred(claim.inner, { ...view, window }));
      return inner.every((each) => each !== undefined) ? inner[0] : undefined;
    }
    default:
      return undefined;
  }
}

function occurs(event: HeldEvent, { record, window }: View): boolean {
  return record.entries.some(
    (entry) => eventFit(event, entry) === 'fits' && within(window, tickOf(event, entry)),
  );
}
