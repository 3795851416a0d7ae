import { entryDifferences } from '../claim/pattern.ts';
import { nearText } from '../match/near-text.ts';
import { printSignature } from '../notation/signature.ts';
import type { HeldPlan } from '../plan/plan.ts';
import type { HeldEntry, Member } from '../record/ledger-record.ts';
import { printsAs } from '../record/prints-as.ts';
import { memberNames } from '../record/prototype-chain.ts';
import { entryData } from '../record/recording.ts';
import type { UnplannedDiagnosis } from './finding.ts';

/** Why nothing answers a call: which plans there are and how each differs, or which members. */
export function explainUnplanned(member: Member<HeldPlan>, held: HeldEntry): UnplannedDiagnosis {
  const entry = entryData(held);
  const { label, double, shape } = member;
  const unknown = member.otherwise === 'unknown' && member.plans.length === 0;
  const name = label.slice(label.lastIndexOf('.') + 1);
  return {
    code: unknown ? 'unknownMember' : 'unplannedCall',
    claim: unknown ? `${double} has no member ${name}` : 'rule unplannedCall',
    culprits: [entry.id],
    at: entry.site,
    entry,
    plans: member.plans.map(({ pattern, replies, counted }) => ({
      plan: `${counted?.notation ?? pattern[printsAs]} ${replies.map((reply) => reply[printsAs]).join(', then ')}`,
      differences: entryDifferences(pattern, held),
    })),
    alike: unknown && shape !== undefined ? membersLike(shape, name) : [],
    signature: printSignature(name, entry.args),
    type: shape?.name,
  };
}

/** The names on a class's prototype chain that are like one; some of all where none is. */
function membersLike(shape: { readonly prototype: unknown }, name: string): readonly string[] {
  const names = memberNames(shape.prototype as object);
  const alike = names.filter((each) => nearText(each, name));
  return alike.length > 0 ? alike : names.slice(0, 12);
}
