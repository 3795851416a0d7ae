import { construct, isClass, isWrittenAsClass } from '../double/constructible.ts';
import { doublesOn, otherwiseFor, unusedName } from '../double/doubles.ts';
import { propertyInPlace } from '../double/property.ts';
import { recordedFunction } from '../double/recorded.ts';
import type { Way } from '../double/way.ts';
import { shortValue } from '../notation/value.ts';
import { plansOf } from '../plan/plan.ts';
import { doublesShown } from '../record/double-names.ts';
import type { Journal } from '../record/journal.ts';
import { type Level, type Member, newMember, type RealFunction } from '../record/member.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import { newTarget, type Target } from '../record/target.ts';
import { tied } from '../record/tie.ts';
import type { Below } from '../value/below.ts';
import { className, nameOfClass } from '../value/class-name.ts';
import { inQuotes } from '../value/escape.ts';
import { isNative } from '../value/is-native.ts';
import { nearNames } from '../value/near-names.ts';
import { descriptorOf, memberNames } from '../value/prototype-chain.ts';
import { refuse } from '../value/refuse.ts';
import { isHeldObject, saidOf } from './held-object.ts';
import { isPlatformCalling, platformModule } from './platform-module.ts';
import { usedByEkkon } from './platform-own.ts';
import { recordPromisified } from './promisified.ts';
import { isNamespace, type Seam, seamOf } from './seam.ts';
import { shareProperties } from './share-properties.ts';
import { putBackSlot, refuseLocked } from './slot.ts';

/**
 * Replaces a member of a real object in place, until the ledger is closed: a function or a class by one that is
 * recorded, a property by an accessor.
 *
 * @param name the name of the object in labels; by default its class's
 * @param whenUnplanned holds the double to its rules, and says what happens at a call that matches no plan
 * @param isAbsent whether there may be no such member yet: then it is gone again after close
 * @param below the public function, named in errors
 * @returns the member that stands there now
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
  below: Below,
): unknown {
  const isModule = isHeldObject(target) && isNamespace(target);
  const said = `${below.name}(${isModule ? 'module' : saidOf(target)}, ${shortValue(key)})`;
  refuseClosed(journal, said, below);
  if (!isHeldObject(target)) {
    refuse(`${said}: the first is the object that has the member.`, below);
  }
  if (!['string', 'symbol', 'number'].includes(typeof key))
    refuse(`${said}: the second is the member's name. Write ${below.name}(mount, 'park').`, below);
  if (isDouble(target))
    refuse(
      `${said}: a stand-in's members are recorded already. Write call(…) of the member.`,
      below,
    );
  const used = usedByEkkon(target, key);
  if (used !== undefined)
    refuse(
      `${below.name}(${target === globalThis ? 'globalThis' : used}, ${shortValue(key)}): Ekkon uses ${used} itself, so it cannot be replaced. Replace the function of yours that calls it.`,
      below,
    );
  const there = isModule
    ? exportOf(target, key)
    : (descriptorOf(target, key) ?? given(target, key));
  if (there === undefined && (isModule || !isAbsent))
    refuse(`${said}: ${nothingThere(target, key, isModule)}`, below);
  const found = there === undefined ? notYetThere : asMethod(target, key, there);
  if (way === 'takeOver' && isUndefined(target, key, found))
    refuse(`${said}: it is an accessor that returns undefined. ${placeLine(key)}`, below);
  const own = Object.getOwnPropertyDescriptor(target, key);
  refuseForeign(journal, found, said, below);
  const seam = seamFor(target, key, found, isModule);
  if (seam === undefined && isModule) refuse(`${said}: ${noSeam(target, key, found.value)}`, below);
  if (seam === undefined) refuseLocked(target, own, said, below);
  const refuseTo = (why: string) =>
    refuse(
      `${said}: nothing can be put in its place (${why}). ${typeof own?.value === 'string' ? 'It is a text: set it for the test, and put it back afterwards.' : 'Hand a stand-in to the code instead.'}`,
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
      placeInSeam(journal, called.label, seam, replacement, refuseTo);
    } else {
      const configurable = own?.configurable ?? true;
      const placed: PropertyDescriptor = { ...found, configurable, value: replacement };
      place(journal, called, target, key, own, placed, () => own, refuseTo);
    }
    placeConstructor(journal, member, replacement);
    return replacement;
  }
  const member = newMember(journal, called, { otherwise: way === 'observe' ? 'real' : 'nothing' });
  const { placed, restored } = propertyInPlace(member, target, key, found, own, way);
  place(journal, called, target, key, own, placed, restored, refuseTo);
  return found.value;
}

/** Whether an object is a ledger's own, of which all is recorded: not a class that stands in a real one's place. */
function isDouble(target: object): boolean {
  const held = tied(target);
  return held !== undefined && !(held.is === 'member' && held.real !== undefined && !held.fake);
}

/** A member that an object returns without having the property: a proxy creates its members on demand. */
function given(target: object, key: PropertyKey): PropertyDescriptor | undefined {
  try {
    const value: unknown = Reflect.get(target, key);
    return value === undefined ? undefined : { ...notYetThere, value };
  } catch {
    return undefined;
  }
}

/** A module's export, whichever way its namespace holds it; nothing while the module is being evaluated. */
export function exportOf(namespace: object, key: PropertyKey): PropertyDescriptor | undefined {
  if (!Object.hasOwn(namespace, key)) return undefined;
  const value: unknown = Reflect.get(namespace, key);
  return { value, writable: true, enumerable: true, configurable: true };
}

/** The place of a module's export, or of a member of a platform module. */
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
export function noSeam(namespace: object, key: PropertyKey, value: unknown): string {
  if (typeof value !== 'function')
    return `an exported value that is not a function cannot be recorded, since nothing tells when it is read. Export a function that returns it, or put something in its place: ledger.place(module, ${shortValue(key)}, …).`;
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
 * A member that is an accessor returning a function is a method: the globals of a DOM in JavaScript are such, and the
 * exports of a compiled module. A hand-written accessor of a property does not run.
 */
function asMethod(target: object, key: PropertyKey, found: PropertyDescriptor): PropertyDescriptor {
  const isMethods =
    target === globalThis ||
    tied(target)?.is === 'member' ||
    isExport(found) ||
    isNative(found.get);
  if (found.get === undefined || !isMethods) return found;
  let value: unknown;
  try {
    value = Reflect.get(target, key);
  } catch {
    return found;
  }
  if (typeof value !== 'function') return found;
  return { value, writable: true, enumerable: found.enumerable ?? true, configurable: true };
}

/** Whether an accessor looks like an export of a compiled module. */
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
  const otherwise = shape === undefined ? otherwiseFor(real) : 'instance';
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
  const named = Object.getOwnPropertyDescriptor(real, 'name')?.value ?? key;
  const shown = `[member ${member.target.label}]`;
  const recorded = recordedFunction(member, named, shown, {
    construct: (args, newTarget, below) =>
      isPlatform && isPlatformCalling(below)
        ? Reflect.construct(real, args, newTarget === below ? real : newTarget)
        : construct(member, args, newTarget, below),
    isUnrecorded: isWrittenAsClass(real) ? () => true : isPlatform ? isPlatformCalling : undefined,
  });
  Object.setPrototypeOf(recorded, real);
  Object.defineProperty(recorded, 'length', { value: real.length, configurable: true });
  Object.defineProperty(recorded, 'prototype', { value: real.prototype, writable: false });
  recordPromisified(recorded, { member, plans: plansOf(member) }, real);
  const replacement = shareProperties(recorded, real, member.shape !== undefined);
  doublesShown(member.journal).set(shown, replacement);
  return replacement;
}

/** Puts a replacement in its place, and notes how to restore the original. */
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
      own === undefined && descriptorOf(target, key) === undefined
        ? 'the object is a proxy that does not return what is written to it'
        : 'writing it has no effect on reading it; take the member over where it is inherited from: Object.getPrototypeOf(…)',
    );
  }
  const slot = { target, key, placed, own };
  doublesOn(journal).slots.push({ member, restore: () => putBackSlot(slot, restored) });
}

/** Makes the replacement of a class the constructor of its instances, until the class is restored. */
function placeConstructor(journal: Journal, member: Member, replacement: RealFunction): void {
  const { real, shape, target } = member;
  const prototype: unknown = shape?.prototype;
  if (!isHeldObject(prototype) || isNative(real)) return;
  const own = Object.getOwnPropertyDescriptor(prototype, 'constructor');
  if (own?.value !== real || own?.configurable !== true) return;
  Object.defineProperty(prototype, 'constructor', { ...own, value: replacement });
  doublesOn(journal).slots.push({
    member: `${target.label}.prototype.constructor`,
    restore() {
      const now = Object.getOwnPropertyDescriptor(prototype, 'constructor');
      return now?.value === replacement && Reflect.defineProperty(prototype, 'constructor', own);
    },
  });
}

/** Replaces a module's export, and notes how to restore it. */
export function placeInSeam(
  journal: Journal,
  member: string,
  seam: Seam,
  replacement: unknown,
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
  below: Below,
): void {
  const holder = tied(value) ?? tied(get);
  if (holder === undefined || holder.journal === journal || holder.journal.closed) return;
  refuse(
    `${said}: ledger ${inQuotes(holder.journal.name)} has replaced this member and is not closed. Close it first, or use it for this one as well.`,
    below,
  );
}

/** Whether an accessor of the platform returns nothing now, so there is nothing to record. */
function isUndefined(target: object, key: PropertyKey, { get }: PropertyDescriptor): boolean {
  // Runners give the globals of a DOM in JavaScript as accessors of their own.
  if (get === undefined || !(isNative(get) || target === globalThis)) return false;
  try {
    return Reflect.get(target, key) === undefined;
  } catch {
    return false;
  }
}

/** How to put something where there is nothing. */
function placeLine(key: PropertyKey): string {
  const name = typeof key === 'string' ? key : 'member';
  return `To put something there: ledger.place(target, ${shortValue(key)}, ledger.standIn(${shortValue(name)})), or ledger.callable(${shortValue(name)}).`;
}

function nothingThere(target: object, key: PropertyKey, isModule: boolean): string {
  if (typeof key === 'string' && key.startsWith('#'))
    return 'private fields cannot be reached from outside. Observe a public member that uses it.';
  const near = typeof key === 'string' ? nearNames(key, memberNames(target)) : [];
  if (near.length > 0) return `it has no such member; near it: ${near.join(', ')}.`;
  const place = isModule ? '' : ` ${placeLine(key)}`;
  return `it has no such member, own or inherited.${place}`;
}

/** The name of an object with replaced members: always the same, and unique. */
function ownerOf(
  journal: Journal,
  target: object,
  name: string | undefined,
  seam: Seam | undefined,
): string {
  const { owners } = doublesOn(journal);
  const known = owners.get(target);
  if (known !== undefined && (name === undefined || name === known)) return known;
  const owner = unusedName(journal, name ?? seam?.module ?? ownerName(target), 'real');
  owners.set(target, owner);
  return owner;
}

/** An object's own name: after its class, if it has one. */
export function ownerName(target: object): string {
  if (target === globalThis) return 'globalThis';
  const own =
    typeof target === 'function' ? target.name : (nameOfClass(target) ?? className(target));
  return own === undefined || own === '' ? 'object' : own;
}
