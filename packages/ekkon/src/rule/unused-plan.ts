import { nearestFirst } from '../explain/nearest.ts';
import { speaksOf } from '../pattern/fit.ts';
import { type HeldPlan, isShadowed, plansIn, plansOf, printPlan } from '../plan/plan.ts';
import { readSite } from '../record/call-site.ts';
import type { Level } from '../record/member.ts';
import { brokenAt } from './broken.ts';
import { levelOn } from './judgements.ts';
import type { Broken, Rule } from './rule.ts';

/** Plans that answered no call. Those with a count are judged by that. */
export const unusedPlan: Rule<Level | 'failIfNear'> = {
  levels: { loose: 'allow', usual: 'note', careful: 'failIfNear', strict: 'fail' },
  atClose: ({ journal }) => plansIn(journal).flatMap(findUnused),
};

function findUnused(plan: HeldPlan): readonly Broken[] {
  const { used, counted, pattern, captured } = plan;
  if (used > 0 || counted !== undefined) return [];
  const { target, journal } = pattern.member;
  const calls = journal.entries.filter((entry) => speaksOf(pattern, entry));
  const shadowed = isShadowed(plan, plansOf(pattern.member));
  const set = levelOn(journal, target.double, 'unusedPlan');
  // Of a member that was called with other arguments only, one of the two is likely mistyped.
  const level: Level =
    set === 'failIfNear' ? (calls.length > 0 && !shadowed ? 'fail' : 'note') : set;
  return brokenAt(level, () => {
    const nearest = shadowed ? [] : nearestFirst(pattern, calls);
    const plannedAt = readSite(captured);
    return {
      code: 'unusedPlan',
      claim: 'rule unusedPlan',
      of: undefined,
      culprits: nearest.map(({ entry }) => entry.id),
      at: plannedAt,
      plan: printPlan(plan),
      plannedAt,
      member: target.label,
      calls: calls.length,
      nearest,
      shadowed,
    };
  });
}
