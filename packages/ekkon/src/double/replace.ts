import { nearText } from '../match/near-text.ts';
import { className, shortValue } from '../notation/value.ts';
import type { HeldPlan } from '../plan/plan.ts';
import type { LedgerRecord, Level, Member, RealFunction } from '../record/ledger-record.ts';
import { labelOf } from '../record/member.ts';
import { descriptorOf, memberNames } from '../record/prototype-chain.ts';
import { begin, end } from '../record/recording.ts';
import { refuse } from '../record/refuse.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { tie, tied } from '../record/tie.ts';
import { construct, isClass } from './constructible.ts';
import { isAsync, makeMember, unusedName } from './make-member.ts';
import { makeKnown, respond, run } from './recorded.ts';

/** Whether the real member runs when it is called. */
export type Way = 'observe' | 'takeOver';

/**
 * Replaces a member of a real object in place, until the ledger is closed: a function or a class by one
 * that is recorded, a property by an accessor that is.
 *
 * @param whenUnplanned holds the label to its rules, and says what happens at a call that no plan fits
 * @param below the public function, named in errors
 * @returns what stands there now
 * @throws TypeError where there is no such member, where it cannot be replaced, or where another live
 * ledger has replaced it
 */
export function replaceMember(
  record: LedgerRecord,
  target: object,
  key: PropertyKey,
  way: Way,
  whenUnplanned: (label: string) => Level,
  below: (...args: never[]) => unknown,
): unknown {
  const said = `${below.name}(${shortValue(target, 30)}, ${shortValue(key)})`;
  refuseClosed(record, said, below);
  if ((typeof target !== 'object' && typeof target !== 'function') || target === null) {
    refuse(`${said}: the first is the object that has the member.`, below);
  }
  if (tied(target)?.is === 'double')
    refuse(
      `${said}: a stand-in's members are recorded as it is. Write call(…) of the member.`,
      below,
    );
  const found = descriptorOf(target, key);
  if (found === undefined) refuse(`${said}: ${nothingThere(target, key)}`, below);
  const own = Object.getOwnPropertyDescriptor(target, key);
  refuseForeign(record, found, said, below);
  const locked =
    own?.configurable === false && !(own.writable === true && typeof own.value === 'function');
  if (locked)
    refuse(
      `${said}: the member is not configurable, so that nothing can be put in its place. Hand a stand-in to the code instead.`,
      below,
    );
  if (own === undefined && !Object.isExtensible(target)) {
    refuse(
      `${said}: the object is not extensible and inherits the member, so that nothing can be put in its place.`,
      below,
    );
  }
  const refuseTo = (why: string) =>
    refuse(
      `${said}: nothing can be put in its place (${why}). Hand a stand-in to the code instead.`,
      below,
    );
  const owner = ownerName(target);
  const label = unusedName(record, labelOf(owner, key));
  const level = whenUnplanned(label);
  if (typeof found.value === 'function') {
    const member = memberFor(record, label, owner, found.value, way, level);
    const replacement = functionInPlace(member, key, found.value);
    const placed: PropertyDescriptor = {
      ...found,
      configurable: own?.configurable ?? true,
      value: replacement,
    };
    place(record, label, target, key, own, placed, () => own, refuseTo);
    return replacement;
  }
  const member = makeMember(record, {
    label,
    double: owner,
    otherwise: way === 'observe' ? 'real' : 'nothing',
  });
  const { placed, restored } = propertyInPlace(member, found, own, way);
  place(record, label, target, key, own, placed, restored, refuseTo);
  return found.value;
}

function memberFor(
  record: LedgerRecord,
  label: string,
  double: string,
  real: RealFunction,
  way: Way,
  whenUnplanned: Level,
): Member<HeldPlan> {
  if (way === 'observe')
    return makeMember(record, {
      label,
      double,
      otherwise: 'real',
      real,
      shape: isClass(real) ? real : undefined,
    });
  if (isClass(real))
    return makeMember(record, {
      label,
      double,
      otherwise: 'instance',
      real,
      shape: real,
      whenUnplanned,
    });
  return makeMember(record, {
    label,
    double,
    otherwise: isAsync(real) ? 'promise' : 'nothing',
    real,
    whenUnplanned,
  });
}

/** The function that stands in the real one's place: the same name, length, statics and prototype. */
function functionInPlace(
  member: Member<HeldPlan>,
  key: PropertyKey,
  real: RealFunction,
): RealFunction {
  function recorded(this: unknown, ...args: unknown[]): unknown {
    if (new.target !== undefined) return construct(member, args, new.target, recorded);
    const entry = begin(member.record, member.label, this, args, recorded);
    return respond(member, entry, this, args);
  }
  Object.setPrototypeOf(recorded, real);
  Object.defineProperty(recorded, 'length', { value: real.length, configurable: true });
  Object.defineProperty(recorded, 'prototype', { value: real.prototype, writable: false });
  const named = Object.getOwnPropertyDescriptor(real, 'name')?.value ?? key;
  makeKnown(recorded, member, named, `[member ${member.label}]`);
  return recorded;
}

/** The accessor that stands in a property's place, and how the property is to be put back. */
function propertyInPlace(
  member: Member<HeldPlan>,
  found: PropertyDescriptor,
  own: PropertyDescriptor | undefined,
  way: Way,
): {
  readonly placed: PropertyDescriptor;
  readonly restored: () => PropertyDescriptor | undefined;
} {
  const { record, label } = member;
  const isData = 'value' in found;
  let current: unknown = found.value;

  function read(this: unknown): unknown {
    const entry = begin(record, label, this, [], read, 'read');
    const runs = way === 'observe' && !isData && found.get !== undefined;
    const value = runs
      ? run(record, entry, () => Reflect.apply(found.get as RealFunction, this, []))
      : current;
    end(record, entry, 'returned', value);
    return value;
  }
  function write(this: unknown, value: unknown): void {
    const entry = begin(record, label, this, [value], write, 'write');
    if (way === 'observe' && !isData && found.set !== undefined) {
      run(record, entry, () => Reflect.apply(found.set as RealFunction, this, [value]));
    } else if (found.writable === false || (way === 'observe' && !isData)) {
      const error = new TypeError(`${label} cannot be written: it is read-only`);
      end(record, entry, 'threw', error);
      throw error;
    } else {
      current = value;
    }
    end(record, entry, 'returned', undefined);
  }
  tie(read, member);
  const placed = {
    get: read,
    set: write,
    enumerable: found.enumerable ?? true,
    configurable: true,
  };
  // What was written to an observed property was written to the real one.
  const restored = () =>
    way === 'observe' && isData && own !== undefined ? { ...own, value: current } : own;
  return { placed, restored };
}

/** Puts a replacement in its place, and notes how to put back what was there. */
function place(
  record: LedgerRecord,
  member: string,
  target: object,
  key: PropertyKey,
  own: PropertyDescriptor | undefined,
  placed: PropertyDescriptor,
  restored: () => PropertyDescriptor | undefined,
  refuseTo: (why: string) => never,
): void {
  try {
    Object.defineProperty(target, key, placed);
  } catch (error) {
    refuseTo(error instanceof Error ? error.message : String(error));
  }
  record.slots.push({
    member,
    restore() {
      const now = Object.getOwnPropertyDescriptor(target, key);
      if (now === undefined || now.value !== placed.value || now.get !== placed.get) return false;
      const before = restored();
      if (own === undefined || before === undefined) return Reflect.deleteProperty(target, key);
      return Reflect.defineProperty(target, key, before);
    },
  });
}

function refuseForeign(
  record: LedgerRecord,
  { value, get }: PropertyDescriptor,
  said: string,
  below: (...args: never[]) => unknown,
): void {
  const holder = tied(value) ?? tied(get);
  if (holder === undefined || holder.record === record || holder.record.closed) return;
  refuse(
    `${said}: ledger "${holder.record.name}" has replaced this member and is not closed. Close it first, or use it for this one as well.`,
    below,
  );
}

function nothingThere(target: object, key: PropertyKey): string {
  if (typeof key === 'string' && key.startsWith('#'))
    return 'private fields cannot be reached from outside. Observe a public member that uses it.';
  const near = memberNames(target).filter((each) => typeof key === 'string' && nearText(each, key));
  return near.length === 0
    ? 'it has no such member.'
    : `it has no such member; near it: ${near.join(', ')}.`;
}

/** What reports call the object: its class, or nothing for a plain one. */
function ownerName(target: object): string {
  if (target === globalThis) return 'globalThis';
  return typeof target === 'function' ? target.name : (className(target) ?? '');
}
