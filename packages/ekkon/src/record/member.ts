import type { LedgerRecord, Member, RuleLevels } from './ledger-record.ts';

/** A member that nothing was said of yet: no plans, answering nothing and allowing every call. */
export function newMember<Plan>(
  record: LedgerRecord,
  parts: Pick<Member, 'label' | 'double'> & Partial<Member<Plan>>,
): Member<Plan> {
  return {
    is: 'member',
    record,
    plans: [],
    otherwise: 'nothing',
    whenUnplanned: 'allow',
    real: undefined,
    fake: false,
    shape: undefined,
    made: [],
    ...parts,
  };
}

/** A member's name behind its double's: `.open`, `[Symbol.iterator]`. */
export function labelOf(double: string, key: PropertyKey): string {
  if (typeof key === 'symbol') return `${double}[${key.description ?? 'symbol'}]`;
  return double === '' ? String(key) : `${double}.${String(key)}`;
}

/** Whether a label is that of one of a double's members, named or behind a symbol. */
export function isMemberOf(label: string, double: string): boolean {
  return label.startsWith(double) && ['.', '['].includes(label.charAt(double.length));
}

/** Whether a label is a double's own, or that of one of its members. */
export function isOf(label: string, double: string): boolean {
  return label === double || isMemberOf(label, double);
}

/** A double's name, or a label, without the number that tells it from others of its name: `dome~2.open`. */
export function baseName(label: string): string {
  return label.replace(/~\d+(?=[.[]|$)/, '');
}

/** The rules that a label's double is held to. */
export function rulesOf({ rules, ruled }: LedgerRecord, label: string): RuleLevels {
  return ruled.find(({ double }) => isOf(label, double))?.rules ?? rules;
}
