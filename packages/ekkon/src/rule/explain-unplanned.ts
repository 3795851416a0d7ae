import type { UnplannedDiagnosis } from '../explain/finding.ts';
import { printSignature } from '../notation/signature.ts';
import { callsDifferences } from '../pattern/fit.ts';
import { plansOf, printPlan } from '../plan/plan.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Member } from '../record/member.ts';
import { nearNames } from '../value/near-names.ts';
import { memberNames } from '../value/prototype-chain.ts';

/** Why nothing answers a call: which plans there are and how each differs, or which members. */
export function explainUnplanned(member: Member, held: HeldEntry): UnplannedDiagnosis {
  const entry = entryData(held);
  const plans = plansOf(member);
  const { target, shape } = member;
  const unknown = member.otherwise === 'unknown' && plans.length === 0;
  const name = String(target.keys.at(-1) ?? target.double);
  return {
    code: unknown ? 'unknownMember' : 'unplannedCall',
    claim: unknown ? `${target.double} has no member ${name}` : 'rule unplannedCall',
    of: undefined,
    culprits: [entry.id],
    at: entry.site,
    entry,
    plans: plans.map((plan) => ({
      plan: printPlan(plan),
      differences: callsDifferences(plan.pattern, held),
    })),
    alike: unknown && shape !== undefined ? membersLike(shape, name) : [],
    signature: printSignature(name, entry.args),
    type: shape?.name,
  };
}

/** The names on a class's prototype chain that are like one; some of all if none is. */
function membersLike(shape: { readonly prototype: unknown }, name: string): readonly string[] {
  const names = memberNames(shape.prototype as object);
  const alike = nearNames(name, names);
  return alike.length > 0 ? alike : names.slice(0, 12);
}
