import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Diagnosis } from '../explain/finding.ts';
import { targetOf } from '../pattern/event.ts';
import type { Level } from '../record/member.ts';
import { judgementsOn, levelOn } from './judgements.ts';
import type { Broken } from './rule.ts';
import type { RuleName } from './rules.ts';

/** One finding, unless the rule allows it. */
export function brokenAt(level: Level, diagnosis: () => Diagnosis): readonly Broken[] {
  return level === 'allow' ? [] : [{ level, diagnosis: diagnosis() }];
}

/** Several findings of one kind, told together if the rule is equally strict on them. */
export function brokenTogether<T>(
  found: readonly T[],
  levelOf: (each: T) => Level,
  diagnose: (found: readonly T[]) => Diagnosis,
): readonly Broken[] {
  return (['fail', 'note'] as const).flatMap((level) => {
    const here = found.filter((each) => levelOf(each) === level);
    return here.length === 0 ? [] : [{ level, diagnosis: diagnose(here) }];
  });
}

/** The level, or a note if it is stricter. */
export function noteAtMost(level: Level): Level {
  return level === 'fail' ? 'note' : level;
}

const ranks: readonly Level[] = ['allow', 'note', 'fail'];

/** The strictest of some levels. */
export function strictest(levels: readonly Level[]): Level {
  return ranks[Math.max(0, ...levels.map((level) => ranks.indexOf(level)))] ?? 'allow';
}

/** The names of a claim's doubles. */
export function doublesOf(claim: HeldClaim): readonly string[] {
  const named = partsOf(claim).doubles?.(claim);
  if (named !== undefined) return named;
  const { events } = partsOf(claim).hears(claim);
  return [
    ...new Set(events.flatMap((event) => (event === undefined ? [] : [targetOf(event).double]))),
  ];
}

/** How strict a rule is on a claim: as strict as for the strictest of its doubles. */
export function levelForClaim(rule: Exclude<RuleName, 'unusedPlan'>, claim: HeldClaim): Level {
  const { journal } = claim;
  const levels = doublesOf(claim).map((double) => levelOn(journal, double, rule));
  return levels.length === 0 ? judgementsOn(journal).levels[rule] : strictest(levels);
}
