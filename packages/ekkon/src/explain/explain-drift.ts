import type { HeldConforms } from '../claim/conforms.ts';
import type { HeldPlan } from '../plan/plan.ts';
import type { HeldEntry, LedgerRecord, Member } from '../record/ledger-record.ts';
import { descriptorOf } from '../record/prototype-chain.ts';
import type { Drift, DriftDiagnosis } from './finding.ts';

/** How a double has drifted from what it stands for; nothing where it has not. */
export function explainDrift(
  claim: HeldConforms,
  record: LedgerRecord,
): DriftDiagnosis | undefined {
  const { double, real, notation } = claim;
  const drifts: Drift[] = [];
  const culprits: number[] = [];
  for (const member of record.members as readonly Member<HeldPlan>[]) {
    if (member.double !== double.name) continue;
    const calls = record.entries.filter(
      ({ label, kind }) => label === member.label && kind === 'call',
    );
    if (calls.length === 0 && member.plans.length === 0) continue;
    const drift = driftOf(member, calls, real);
    if (drift === undefined) continue;
    drifts.push({ member: member.label, ...drift });
    culprits.push(...calls.slice(0, 1).map(({ id }) => id));
  }
  if (drifts.length === 0) return undefined;
  return { code: 'drift', claim: notation, culprits, at: undefined, double: double.name, drifts };
}

function driftOf(
  member: Member<HeldPlan>,
  calls: readonly HeldEntry[],
  real: object,
): Omit<Drift, 'member'> | undefined {
  const key = member.label.slice(member.double.length + 1);
  const descriptor = descriptorOf(real, key);
  const used = calls.length > 0 ? 'was called' : 'has a plan';
  if (descriptor === undefined)
    return { kind: 'missing', double: used, real: 'has no such member' };
  const method: unknown = descriptor.value;
  if (typeof method !== 'function') {
    const nature =
      descriptor.get === undefined && descriptor.set === undefined
        ? 'is a property'
        : 'is an accessor';
    return { kind: 'nature', double: used, real: nature };
  }
  const passed = Math.max(0, ...calls.map(({ args }) => args.length));
  const most = mostParameters(method as (...args: never[]) => unknown);
  if (passed > most) {
    return { kind: 'arity', double: `was called with ${passed} arguments`, real: `takes ${most}` };
  }
  const isAsync = Object.prototype.toString.call(method) === '[object AsyncFunction]';
  const atOnce =
    calls.some(({ outcome }) => outcome.state === 'returned') ||
    member.plans.some(({ replies }) => replies.some(({ kind }) => kind === 'throws'));
  return isAsync && atOnce
    ? { kind: 'asynchronous', double: 'ends at once', real: 'gives a promise' }
    : undefined;
}

/** How many arguments a function has use for: `length`, unless its code has more to say. */
function mostParameters(method: (...args: never[]) => unknown): number {
  const source = Function.prototype.toString.call(method);
  const list = /^[^(]*\(([^)]*)\)/.exec(source)?.[1] ?? '';
  const takesMore =
    /\.\.\.|=/.test(list) || /\barguments\b/.test(source) || /\[native code\]/.test(source);
  return takesMore ? Number.POSITIVE_INFINITY : method.length;
}
