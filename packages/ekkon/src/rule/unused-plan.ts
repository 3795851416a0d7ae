import { nearestFirst } from '../explain/nearest.ts';
import { tells } from '../pattern/event.ts';
import { callsFit, speaksOf } from '../pattern/fit.ts';
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
  const since = calls.filter(({ began }) => began > plan.since);
  const isMatched = since.some((entry) => callsFit(pattern, entry) === 'fits');
  const shadowed = isMatched || isShadowed(plan, plansOf(pattern.member));
  const set = levelOn(journal, target.double, 'unusedPlan');
  // Of a member that was called with other arguments only, one of the two is likely mistyped.
  const level: Level =
    set === 'failIfNear' ? (calls.length > 0 && !shadowed ? 'fail' : 'note') : set;
  return brokenAt(level, () => {
    // A call that another plan answers by its arguments is not the one that was meant.
    const answered = new Set(
      plansOf(pattern.member).flatMap((other) => (tells(other.pattern) ? other.answered : [])),
    );
    const left = since.filter((entry) => !answered.has(entry));
    const nearest = shadowed ? [] : nearestFirst(pattern, left, journal.entries);
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
      callsBefore: calls.length - since.length,
      nearest,
      shadowed,
    };
  });
}
