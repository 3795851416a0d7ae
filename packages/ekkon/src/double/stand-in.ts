import type { HeldPlan } from '../plan/plan.ts';
import type { Double, LedgerRecord, Member } from '../record/ledger-record.ts';
import { printsAs } from '../record/prints-as.ts';
import { tie, tied } from '../record/tie.ts';
import { type RecordedFunction, recordedFunction } from './recorded.ts';

/**
 * Makes an object that stands in for an interface. Its members appear on first use: a proxy as its
 * prototype is asked for each once, and from then on they are ordinary own properties.
 */
export function makeStandIn(record: LedgerRecord, name: string): object {
  const standIn: object = Object.create(standInPrototype);
  Object.defineProperty(standIn, printsAs, { value: `[stand-in ${name}]` });
  const double: Double = { is: 'double', record, name, object: standIn };
  tie(standIn, double);
  return standIn;
}

function show(this: { readonly [printsAs]?: string }): string {
  return this[printsAs] ?? '[stand-in]';
}

/** What every stand-in has beside its members: it prints as itself wherever it is shown. */
const base: object = Object.create(Object.prototype, {
  toString: { value: show },
  toLocaleString: { value: show },
  // The one way in which JSON, and a runner's comparison of texts, can be told a name.
  toJSON: { value: show },
  [Symbol.for('nodejs.util.inspect.custom')]: { value: show },
});

/**
 * The prototype of every stand-in. It knows none of them, but asks whoever it is asked for: what a
 * prototype refers to lives on until the engine's next full collection, and that must not be a record.
 */
const standInPrototype: object = new Proxy(base, {
  get(_, key, receiver) {
    const double = namesMember(key) && !(key in base) ? tied(receiver) : undefined;
    return double?.is === 'double'
      ? addMember(double, String(key))
      : Reflect.get(base, key, receiver);
  },
  has: (_, key) => namesMember(key) || key in base,
});

function addMember({ record, name, object }: Double, key: string): RecordedFunction {
  const member: Member<HeldPlan> = {
    is: 'member',
    record,
    label: `${name}.${key}`,
    double: name,
    plans: [],
  };
  const recorded = recordedFunction(member, key, `[member ${member.label}]`);
  record.members.push(member);
  Object.defineProperty(object, key, {
    value: recorded,
    writable: true,
    enumerable: true,
    configurable: true,
  });
  return recorded;
}

/** What promises, runners and frameworks look for to tell what they were given. */
const probes: ReadonlySet<string> = new Set([
  'then',
  'nodeType',
  'tagName',
  '$$typeof',
  'asymmetricMatch',
  '@@__IMMUTABLE_ITERABLE__@@',
  '@@__IMMUTABLE_RECORD__@@',
  '_isVue',
  '__v_isRef',
]);

/** Whether a key is one that a double has a member for. */
export function namesMember(key: PropertyKey): key is string {
  return typeof key === 'string' && !probes.has(key);
}
