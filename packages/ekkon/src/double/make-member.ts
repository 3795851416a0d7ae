import type { HeldPlan } from '../plan/plan.ts';
import type { LedgerRecord, Member } from '../record/ledger-record.ts';

/** Makes a member, and enters it among those of its ledger. */
export function makeMember(
  record: LedgerRecord,
  parts: Pick<Member, 'label' | 'double'> & Partial<Member<HeldPlan>>,
): Member<HeldPlan> {
  const member: Member<HeldPlan> = {
    is: 'member',
    record,
    plans: [],
    otherwise: 'nothing',
    whenUnplanned: 'allow',
    real: undefined,
    shape: undefined,
    made: [],
    ...parts,
  };
  record.members.push(member);
  return member;
}

/** A member's name behind its double's: `.open`, `[Symbol.iterator]`. */
export function labelOf(double: string, key: PropertyKey): string {
  if (typeof key === 'symbol') return `${double}[${key.description ?? 'symbol'}]`;
  return double === '' ? String(key) : `${double}.${String(key)}`;
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
