import { className, shortValue } from '../notation/value.ts';
import { type HeldPlan, planFor, plansOf, takeReply } from '../plan/plan.ts';
import { end, type HeldEntry, type Journal } from '../record/journal.ts';
import { isNative } from '../record/kind.ts';
import { type Level, type Member, newMember, type RealFunction } from '../record/member.ts';
import { nearText } from '../record/near-text.ts';
import { printsAs } from '../record/prints-as.ts';
import { descriptorOf, memberNames } from '../record/prototype-chain.ts';
import { recordCall } from '../record/record-call.ts';
import { refuse } from '../record/refuse.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { newTarget, type Target } from '../record/target.ts';
import { tie, tied } from '../record/tie.ts';
import { construct, isClass } from './constructible.ts';
import { doublesOn, isAsync, unusedName } from './doubles.ts';
import { isPlatformCalling, platformModule } from './platform-module.ts';
import { type Answering, makeKnown, recordedFunction, respond } from './recorded.ts';
import { isNamespace, type Seam, seamOf } from './seam.ts';

/** Whether the real member runs when it is called. */
export type Way = 'observe' | 'takeOver';

/**
 * Replaces a member of a real object in place, until the ledger is closed: a function or a class by one
 * that is recorded, a property by an accessor that is.
 *
 * @param name what the object is called in labels; its class's name unless given
 * @param whenUnplanned holds the double to its rules, and says what happens at a call that no plan fits
 * @param isAbsent whether there may be no such member yet: then it is gone again after close
 * @param below the public function, named in errors
 * @returns what stands there now
 * @throws TypeError if there is no such member, if it cannot be replaced, or if another live ledger has
 * replaced it
 */
export function replaceMember(
  journal: Journal,
  target: object,
  key: PropertyKey,
  way: Way,
  name: string | undefined,
  whenUnplanned: (double: string) => Level,
  isAbsent: boolean,
  below: (...args: never[]) => unknown,
): unknown {
  const isModule = isHeldObject(target) && isNamespace(target);
  const said = `${below.name}(${isModule ? 'module' : shortValue(target, 30)}, ${shortValue(key)})`;
  refuseClosed(journal, said, below);
  if (!isHeldObject(target)) {
    refuse(`${said}: the first is the object that has the member.`, below);
  }
  if (tied(target)?.is === 'double')
    refuse(
      `${said}: a stand-in's members are recorded already. Write call(…) of the member.`,
      below,
    );
  const there = isModule ? exportOf(target, key) : descriptorOf(target, key);
  if (there === undefined && (isModule || !isAbsent))
    refuse(`${said}: ${nothingThere(target, key)}`, below);
  const found = there === undefined ? notYetThere : asMethod(target, key, there);
  const own = Object.getOwnPropertyDescriptor(target, key);
  refuseForeign(journal, found, said, below);
  const seam = seamFor(target, key, found, isModule);
  if (seam === undefined && isModule) refuse(`${said}: ${noSeam(target, found)}`, below);
  if (seam === undefined) refuseLocked(target, own, said, below);
  const refuseTo = (why: string) =>
    refuse(
      `${said}: nothing can be put in its place (${why}). Hand a stand-in to the code instead.`,
      below,
    );
  const owner = ownerOf(journal, target, name, seam);
  const level = whenUnplanned(owner);
  const called = newTarget(journal, owner, [key]);
  if (there === undefined) {
    const member = newMember(journal, called, { whenUnplanned: level });
    const value = recordedFunction(member, key, `[member ${called.label}]`);
    place(journal, called, target, key, own, { ...notYetThere, value }, () => own, refuseTo);
    return value;
  }
  if (typeof found.value === 'function') {
    const member = memberFor(journal, called, found.value, way, level);
    const replacement = functionInPlace(member, key, found.value, seam?.isPlatform === true);
    if (seam !== undefined) {
      placeInSeam(journal, called, seam, replacement, refuseTo);
      return replacement;
    }
    const placed: PropertyDescriptor = {
      ...found,
      configurable: own?.configurable ?? true,
      value: replacement,
    };
    place(journal, called, target, key, own, placed, () => own, refuseTo);
    return replacement;
  }
  const member = newMember(journal, called, { otherwise: way === 'observe' ? 'real' : 'nothing' });
  const { placed, restored } = propertyInPlace(member, found, own, way);
  place(journal, called, target, key, own, placed, restored, refuseTo);
  return found.value;
}

function isHeldObject(target: unknown): target is object {
  return (typeof target === 'object' && target !== null) || typeof target === 'function';
}

function refuseLocked(
  target: object,
  own: PropertyDescriptor | undefined,
  said: string,
  below: (...args: never[]) => unknown,
): void {
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
}

/** What a module exports, whichever way its namespace holds it; nothing if it is still being evaluated. */
function exportOf(namespace: object, key: PropertyKey): PropertyDescriptor | undefined {
  if (!Object.hasOwn(namespace, key)) return undefined;
  const value: unknown = Reflect.get(namespace, key);
  return { value, writable: true, enumerable: true, configurable: true };
}

/** The place of what a module exports, or of what one of the platform's modules holds. */
function seamFor(
  target: object,
  key: PropertyKey,
  { value }: PropertyDescriptor,
  isModule: boolean,
): Seam | undefined {
  if (typeof value !== 'function') return undefined;
  return isModule ? seamOf(target, key, value) : platformModule(target)?.seam(key, value);
}

/** Why an export cannot be replaced, and what to do. */
function noSeam(namespace: object, { value }: PropertyDescriptor): string {
  if (typeof value !== 'function')
    return 'an exported value that is no function cannot be recorded, since nothing tells when it is read. Export a function that gives it.';
  if (platformModule(namespace) !== undefined)
    return "this module of the platform holds it in a way that cannot be replaced. Hand a stand-in to the code instead, or under Vitest name the module: seams({ of: ['node:fs'] }).";
  return "this module was loaded in a way that lets nothing be put in its place. Under Vite and Vitest add seams() from 'ekkon/vite' to the plugins, and name packages: seams({ of: ['date-fns'] }). Under Node start with --import ekkon/seams, and name packages: EKKON_SEAMS=date-fns.";
}

/** A member that is not there yet, as assigning it would make it. */
const notYetThere: PropertyDescriptor = Object.freeze({
  value: undefined,
  writable: true,
  enumerable: true,
  configurable: true,
});

/**
 * A member that is an accessor yielding a function is a method: the globals of a DOM in JavaScript are such,
 * and what a compiled module exports. An accessor that somebody wrote for a property is not run.
 */
function asMethod(target: object, key: PropertyKey, found: PropertyDescriptor): PropertyDescriptor {
  if (found.get === undefined || !(target === globalThis || isExport(found) || isNative(found.get)))
    return found;
  let value: unknown;
  try {
    value = Reflect.get(target, key);
  } catch {
    return found;
  }
  if (typeof value !== 'function') return found;
  return { value, writable: true, enumerable: found.enumerable ?? true, configurable: true };
}

/** Whether an accessor looks like one that a compiled module gives what it exports by. */
function isExport({ get, set, enumerable, configurable }: PropertyDescriptor): boolean {
  return get !== undefined && set === undefined && enumerable === true && configurable === true;
}

function memberFor(
  journal: Journal,
  target: Target,
  real: RealFunction,
  way: Way,
  whenUnplanned: Level,
): Member {
  const shape = isClass(real) ? real : undefined;
  if (way === 'observe') return newMember(journal, target, { otherwise: 'real', real, shape });
  const otherwise = shape !== undefined ? 'instance' : isAsync(real) ? 'promise' : 'nothing';
  return newMember(journal, target, { otherwise, real, shape, whenUnplanned });
}

/**
 * The function that stands in the real one's place: the same name, length, statics and prototype.
 *
 * @param isPlatform whether the platform calls it too: it gets the real one, and that is not recorded
 */
function functionInPlace(
  member: Member,
  key: PropertyKey,
  real: RealFunction,
  isPlatform: boolean,
): RealFunction {
  const { journal, target } = member;
  const answering: Answering = { member, plans: plansOf(member) };
  function recorded(this: unknown, ...args: unknown[]): unknown {
    if (isPlatform && isPlatformCalling(recorded))
      return new.target === undefined
        ? Reflect.apply(real, this, args)
        : Reflect.construct(real, args, new.target === recorded ? real : new.target);
    if (new.target !== undefined) return construct(member, args, new.target, recorded);
    return recordCall(journal, target, 'call', this, args, recorded, respond, answering);
  }
  Object.setPrototypeOf(recorded, real);
  Object.defineProperty(recorded, 'length', { value: real.length, configurable: true });
  Object.defineProperty(recorded, 'prototype', { value: real.prototype, writable: false });
  const named = Object.getOwnPropertyDescriptor(real, 'name')?.value ?? key;
  makeKnown(recorded, member, named, `[member ${target.label}]`);
  return recorded;
}

/** The accessor that stands in a property's place, and how the property is to be put back. */
function propertyInPlace(
  member: Member,
  found: PropertyDescriptor,
  own: PropertyDescriptor | undefined,
  way: Way,
): {
  readonly placed: PropertyDescriptor;
  readonly restored: () => PropertyDescriptor | undefined;
} {
  const { journal, target } = member;
  const plans = plansOf(member);
  const isData = 'value' in found;
  let current: unknown = found.value;

  function readNow(entry: HeldEntry, receiver: unknown): unknown {
    const plan = plans.length === 0 ? undefined : planFor(plans, entry);
    if (plan !== undefined) return plannedRead(member, plan, entry, receiver);
    const runs = way === 'observe' && !isData && found.get !== undefined;
    return runs ? Reflect.apply(found.get as RealFunction, receiver, []) : current;
  }
  function writeNow(_: HeldEntry, receiver: unknown, [value]: unknown[]): void {
    if (way === 'observe' && !isData && found.set !== undefined) {
      Reflect.apply(found.set as RealFunction, receiver, [value]);
    } else if (found.writable === false || (way === 'observe' && !isData)) {
      throw new TypeError(`${target.label} cannot be written: it is read-only`);
    } else {
      current = value;
    }
  }
  /** What a property gives is given as it is: it is no call, and nobody waits for what it may promise. */
  function readAtOnce(entry: HeldEntry, receiver: unknown): unknown {
    const value = readNow(entry, receiver);
    end(journal, entry, 'returned', value);
    return value;
  }
  function read(this: unknown): unknown {
    return recordCall(journal, target, 'read', this, [], read, readAtOnce, undefined);
  }
  function write(this: unknown, value: unknown): void {
    recordCall(journal, target, 'write', this, [value], write, writeNow, undefined);
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

/** What a plan gives for the read of a property. */
function plannedRead(
  { target }: Member,
  plan: HeldPlan,
  entry: HeldEntry,
  receiver: unknown,
): unknown {
  const reply = takeReply(plan, entry);
  switch (reply.kind) {
    case 'gives':
      return reply.value;
    case 'throws':
      throw reply.reason;
    case 'computes':
      return Reflect.apply(reply.run, receiver, []);
    default:
      throw new TypeError(
        `${target.label} was planned to reply with ${reply[printsAs]} to a read, which can give, compute or throw`,
      );
  }
}

/** Puts a replacement in its place, and notes how to put back what was there. */
function place(
  journal: Journal,
  { label: member }: Target,
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
  if (typeof placed.value === 'function' && Reflect.get(target, key) !== placed.value) {
    Reflect.deleteProperty(target, key);
    refuseTo(
      'what is written to it has no effect on what is read; take the member over where it is inherited from: Object.getPrototypeOf(…)',
    );
  }
  doublesOn(journal).slots.push({
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

/** Puts a replacement in the place of what a module exports, and notes how to put that back. */
function placeInSeam(
  journal: Journal,
  { label: member }: Target,
  seam: Seam,
  replacement: RealFunction,
  refuseTo: (why: string) => never,
): void {
  try {
    seam.put(replacement);
  } catch (error) {
    refuseTo(error instanceof Error ? error.message : String(error));
  }
  doublesOn(journal).slots.push({
    member,
    restore() {
      if (seam.read() !== replacement) return false;
      seam.putBack();
      return true;
    },
  });
}

function refuseForeign(
  journal: Journal,
  { value, get }: PropertyDescriptor,
  said: string,
  below: (...args: never[]) => unknown,
): void {
  const holder = tied(value) ?? tied(get);
  if (holder === undefined || holder.journal === journal || holder.journal.closed) return;
  refuse(
    `${said}: ledger "${holder.journal.name}" has replaced this member and is not closed. Close it first, or use it for this one as well.`,
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

/** What an object of which members are replaced is called: always the same, and nothing else is. */
function ownerOf(
  journal: Journal,
  target: object,
  name: string | undefined,
  seam: Seam | undefined,
): string {
  const { owners } = doublesOn(journal);
  const known = owners.get(target);
  if (known !== undefined && (name === undefined || name === known)) return known;
  const owner = unusedName(journal, name ?? seam?.module ?? ownerName(target));
  owners.set(target, owner);
  return owner;
}

/** What an object is called by itself: after its class, if it has one. */
function ownerName(target: object): string {
  if (target === globalThis) return 'globalThis';
  const own = typeof target === 'function' ? target.name : className(target);
  return own === undefined || own === '' ? 'object' : own;
}
