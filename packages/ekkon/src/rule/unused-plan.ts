import { nearestFirst } from '../explain/nearest.ts';
import { tells } from '../pattern/event.ts';
import { callsFit, speaksOf } from '../pattern/fit.ts';
import { type HeldPlan, isShadowed, plansIn, plansOf, printPlan } from '../plan/plan.ts';
import { type CapturedSite, readSite, readSites } from '../record/call-site.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Level, Member } from '../record/member.ts';
import { brokenAt, doublesOf } from './broken.ts';
import { judgementsOn, levelOn } from './judgements.ts';
import { isSlipOf } from './misspelled.ts';
import type { Broken, Rule } from './rule.ts';

/** Plans that answered no call. Those with a count are judged by that. */
export const unusedPlan: Rule<Level | 'failIfNear'> = {
  levels: { loose: 'allow', usual: 'note', careful: 'failIfNear', strict: 'fail' },
  atClose: ({ journal }) => plansIn(journal).flatMap(findUnused),
};

/**
 * A plan is likely mistyped if no plan answers a call of its member, or if one is a slip of typing away. One that is
 * there for a special case, or for other tests with the same set-up, is none.
 *
 * @param left the calls of its member that no plan answers by their arguments
 */
function levelIfNear(
  { pattern, captured }: HeldPlan,
  left: readonly HeldEntry[],
  shadowed: boolean,
): Level {
  if (shadowed) return 'note';
  if (left.some((entry) => entry.more?.answer === undefined)) return 'fail';
  if (left.some((entry) => isSlipOf(pattern, entry))) return 'fail';
  return isIdle(pattern.member) && !isSetUp(captured) ? 'fail' : 'note';
}

/** Whether nothing was recorded of a member's double, and no claim mentions it. */
function isIdle({ journal, target }: Member): boolean {
  if (journal.entries.some((entry) => entry.target.double === target.double)) return false;
  return judgementsOn(journal).judged.every(
    ({ claim }) => !doublesOf(claim).includes(target.double),
  );
}

/** Whether a plan was written by a function that several tests may share: its caller is the test's own code, too. */
function isSetUp(captured: CapturedSite | undefined): boolean {
  return readSites(captured).length > 1;
}

function findUnused(plan: HeldPlan): readonly Broken[] {
  const { used, counted, pattern, captured } = plan;
  if (used > 0 || counted !== undefined) return [];
  const { target, journal } = pattern.member;
  const calls = journal.entries.filter((entry) => speaksOf(pattern, entry));
  const since = calls.filter(({ began }) => began > plan.since);
  const isMatched = since.some((entry) => callsFit(pattern, entry) === 'fits');
  const shadowed = isMatched || isShadowed(plan, plansOf(pattern.member));
  const set = levelOn(journal, target.double, 'unusedPlan');
  // A call that another plan answers by its arguments is not the one that was meant.
  const plans = plansOf(pattern.member);
  const answered = new Set(plans.flatMap((each) => (tells(each.pattern) ? each.answered : [])));
  const left = since.filter((entry) => !answered.has(entry));
  const level = set === 'failIfNear' ? levelIfNear(plan, left, shadowed) : set;
  return brokenAt(level, () => {
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
