import { type HeldClaim, patternsIn, recordOf } from '../claim/claim.ts';
import { memberOf } from '../claim/event.ts';
import type { Level, RuleName } from '../record/ledger-record.ts';
import { rulesOf } from '../record/member.ts';

const ranks: readonly Level[] = ['allow', 'note', 'fail'];

/** The strictest of some levels. */
export function strictest(levels: readonly Level[]): Level {
  return ranks[Math.max(0, ...levels.map((level) => ranks.indexOf(level)))] ?? 'allow';
}

/** How strict a rule is on a claim: as it is for the strictest of the doubles it speaks of. */
export function levelFor(rule: RuleName, claim: HeldClaim): Level {
  const record = recordOf(claim);
  const labels = new Set(patternsIn(claim).map((event) => memberOf(event).label));
  const levels = [...labels].map((label) => rulesOf(record, label)[rule]);
  return levels.length === 0 ? record.rules[rule] : strictest(levels);
}
