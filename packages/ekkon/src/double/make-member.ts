import type { HeldPlan } from '../plan/plan.ts';
import type { LedgerRecord, Member } from '../record/ledger-record.ts';
import { newMember } from '../record/member.ts';

/** Makes a member, and enters it among those of its ledger. */
export function makeMember(
  record: LedgerRecord,
  parts: Pick<Member, 'label' | 'double'> & Partial<Member<HeldPlan>>,
): Member<HeldPlan> {
  const member = newMember<HeldPlan>(record, parts);
  record.members.push(member);
  return member;
}

/** A name no other double of the ledger has: a second one of the same name is told apart by a number. */
export function unusedName(record: LedgerRecord, name: string): string {
  const before = record.names.get(name) ?? 0;
  record.names.set(name, before + 1);
  return before === 0 ? name : `${name}~${before + 1}`;
}

/** Whether calls of a function end later. */
export function isAsync(value: unknown): boolean {
  return Object.prototype.toString.call(value) === '[object AsyncFunction]';
}
