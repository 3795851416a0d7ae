import { nearestFirst } from '../explain/nearest.ts';
import { type HeldPlan, isShadowed } from '../plan/plan.ts';
import { readSite } from '../record/call-site.ts';
import type { LedgerRecord, Member } from '../record/ledger-record.ts';
import { rulesOf } from '../record/member.ts';
import { printsAs } from '../record/prints-as.ts';
import { type Broken, brokenAt } from './broken.ts';

/** Plans that answered no call. Those with a count are judged by that. */
export function unusedPlans(record: LedgerRecord): readonly Broken[] {
  const members = record.members as readonly Member<HeldPlan>[];
  return members.flatMap((member) => {
    const { unusedPlan } = rulesOf(record, member.label);
    const unused = member.plans.filter(({ used, counted }) => used === 0 && counted === undefined);
    return unused.flatMap((plan) =>
      brokenAt(unusedPlan, () => {
        const { pattern, replies, captured } = plan;
        const calls = record.entries.filter(
          ({ label, kind }) => label === member.label && (kind === 'call' || kind === 'construct'),
        );
        const shadowed = isShadowed(plan, member.plans);
        const nearest = shadowed ? [] : nearestFirst(pattern, calls);
        const plannedAt = readSite(captured);
        return {
          code: 'unusedPlan',
          claim: 'rule unusedPlan',
          culprits: nearest.map(({ entry }) => entry.id),
          at: plannedAt,
          plan: `${pattern[printsAs]} ${replies.map((reply) => reply[printsAs]).join(', then ')}`,
          plannedAt,
          member: member.label,
          calls: calls.length,
          nearest,
          shadowed,
        };
      }),
    );
  });
}
