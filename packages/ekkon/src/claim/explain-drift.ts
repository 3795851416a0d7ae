import { aboutClaim } from '../explain/diagnosis.ts';
import type { Drift, DriftDiagnosis } from '../explain/finding.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Target } from '../record/target.ts';
import { descriptorOf } from '../value/prototype-chain.ts';
import type { HeldConforms } from './conforms.ts';
import type { Evidence, PlannedMember, View } from './parts.ts';

/** How a double has drifted from the real thing. */
export function explainDrift(claim: HeldConforms, { evidence }: View): DriftDiagnosis {
  const { entries } = evidence.journal;
  const found = driftsIn(
    claim,
    entries.filter((entry) => isCallOf(claim, entry)),
    evidence,
  );
  return {
    code: 'drift',
    ...aboutClaim(claim),
    culprits: found.flatMap(({ first }) => (first === undefined ? [] : [first.id])),
    at: undefined,
    double: claim.double.name,
    drifts: found.map(({ drift }) => drift),
  };
}

function isCallOf({ double }: HeldConforms, { target, kind }: HeldEntry): boolean {
  return kind === 'call' && target.double === double.name;
}

/** One way in which a member has drifted, and its first call. */
interface FoundDrift {
  readonly drift: Drift;
  readonly first: HeldEntry | undefined;
}

/** How the members of a double that were called or planned have drifted from the real ones. */
export function driftsIn(
  { double, real }: HeldConforms,
  calls: readonly HeldEntry[],
  evidence: Evidence,
): readonly FoundDrift[] {
  const callsOf = new Map<Target, HeldEntry[]>();
  for (const entry of calls)
    callsOf.set(entry.target, [...(callsOf.get(entry.target) ?? []), entry]);
  const plans = new Map(evidence.planned(double.name).map((each) => [each.target, each]));
  const used = [...new Set([...plans.keys(), ...callsOf.keys()])].sort(
    (one, other) => one.number - other.number,
  );
  return used.flatMap((target) => {
    const made = callsOf.get(target) ?? [];
    const drift = driftOf(target, made, plans.get(target), real);
    return drift === undefined
      ? []
      : [{ drift: { member: target.label, ...drift }, first: made[0] }];
  });
}

function driftOf(
  target: Target,
  calls: readonly HeldEntry[],
  plan: PlannedMember | undefined,
  real: object,
): Omit<Drift, 'member'> | undefined {
  const used = calls.length > 0 ? 'was called' : 'has a plan';
  const holder = holderOf(real, target.keys.slice(0, -1));
  if (holder === 'hidden') return undefined;
  const descriptor =
    holder === undefined ? undefined : descriptorOf(holder, target.keys.at(-1) ?? '');
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
    const said = passed === 1 ? '1 argument' : `${passed} arguments`;
    return { kind: 'arity', double: `was called with ${said}`, real: `takes ${most}` };
  }
  const isAsync = Object.prototype.toString.call(method) === '[object AsyncFunction]';
  const atOnce = plan?.throws === true || calls.some(({ outcome }) => outcome.state === 'returned');
  return isAsync && atOnce
    ? { kind: 'asynchronous', double: 'ends at once', real: 'gives a promise' }
    : undefined;
}

/** The owner of a nested member; `hidden` if an accessor stands in between, which is not run. */
function holderOf(real: object, keys: readonly PropertyKey[]): object | 'hidden' | undefined {
  let holder: unknown = real;
  for (const key of keys) {
    const descriptor = descriptorOf(holder as object, key);
    if (descriptor === undefined) return undefined;
    if (!('value' in descriptor)) return 'hidden';
    holder = descriptor.value;
    if ((typeof holder !== 'object' && typeof holder !== 'function') || holder === null)
      return undefined;
  }
  return holder as object;
}

/** How many arguments a function uses: `length`, unless its code shows that it uses more. */
function mostParameters(method: (...args: never[]) => unknown): number {
  const source = Function.prototype.toString.call(method);
  const list = /^[^(]*\(([^)]*)\)/.exec(source)?.[1] ?? '';
  const takesMore =
    /\.\.\.|=/.test(list) || /\barguments\b/.test(source) || /\[native code\]/.test(source);
  return takesMore ? Number.POSITIVE_INFINITY : method.length;
}
