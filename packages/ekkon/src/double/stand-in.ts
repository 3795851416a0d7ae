import type { Journal } from '../record/journal.ts';
import {
  type Class,
  type Double,
  type Level,
  type Member,
  type Names,
  newMember,
} from '../record/member.ts';
import { printsAs } from '../record/prints-as.ts';
import { chainOf } from '../record/prototype-chain.ts';
import { recordCall } from '../record/record-call.ts';
import { targetAt } from '../record/target.ts';
import { tie, tied } from '../record/tie.ts';
import { isAsync } from './doubles.ts';
import { type RecordedFunction, recordedFunction } from './recorded.ts';
import { inspected, show, shownBase } from './shown.ts';

export interface StandInParts {
  readonly shape?: Class | undefined;
  /** Whose methods the stand-in has; the shape's own unless a subclass was constructed. */
  readonly prototype?: object | undefined;
  readonly whenUnplanned?: Level;
  /** The members it is said to have, if any are named. */
  readonly names?: Names | undefined;
}

/**
 * Makes an object that stands in for an interface or a class. Its members appear on first use: a proxy
 * as its prototype is asked for each once, and from then on they are own properties.
 */
export function makeStandIn(journal: Journal, name: string, parts: StandInParts = {}): object {
  const { shape, prototype = shape?.prototype, whenUnplanned = 'allow', names } = parts;
  const isClosed = names?.members !== undefined && shape === undefined;
  const standIn: object = Object.create(isClosed ? shownBase : standInPrototype(shape, prototype));
  Object.defineProperty(standIn, printsAs, { value: `[stand-in ${name}]` });
  const double: Double = {
    is: 'double',
    journal,
    name,
    object: standIn,
    whenUnplanned,
    shape,
    names,
  };
  tie(standIn, double);
  if (isClosed)
    for (const key of [...(names.members ?? []), ...(names.also ?? [])]) addMember(double, key);
  return standIn;
}

/**
 * Puts a partial fake's members on a stand-in: its functions run and are recorded, with the stand-in as
 * `this`; everything else is copied. The fake itself is not changed.
 */
export function addFake(standIn: object, fake: object): void {
  const double = tied(standIn);
  if (double?.is !== 'double') return;
  for (const [key, descriptor] of membersOf(fake)) {
    const { value } = descriptor;
    if (typeof value !== 'function') {
      Object.defineProperty(standIn, key, { ...descriptor, configurable: true });
      continue;
    }
    const member = memberOf(double, [key], { otherwise: 'real', real: value, fake: true });
    defineSlot(double, key, standingFor(member, key));
  }
}

/** A double's member, or a member of its members, by the keys that lead there. */
function memberOf(
  { journal, name }: Pick<Double, 'journal' | 'name'>,
  keys: readonly PropertyKey[],
  parts: Parameters<typeof newMember>[2],
): Member {
  return newMember(journal, targetAt(journal, name, keys), parts);
}

/** The function that stands for a member. */
function standingFor(member: Member, key: PropertyKey): RecordedFunction {
  return recordedFunction(member, key, `[member ${member.target.label}]`);
}

/** The members of an object and of the classes it is made of, the nearest first. */
function membersOf(fake: object): ReadonlyMap<PropertyKey, PropertyDescriptor> {
  const members = new Map<PropertyKey, PropertyDescriptor>();
  for (const holder of chainOf(fake)) {
    for (const key of Reflect.ownKeys(holder)) {
      const descriptor = Object.getOwnPropertyDescriptor(holder, key);
      if (descriptor !== undefined && key !== 'constructor' && !members.has(key))
        members.set(key, descriptor);
    }
  }
  return members;
}

/** The prototypes made so far, by the prototype of the class each stands for. */
const prototypes = new WeakMap<object, object>();

/**
 * The prototype of stand-ins. It knows none of them, but asks whoever it is asked for: what a prototype
 * refers to lives on until the engine's next full collection, and that must not be a record.
 */
function standInPrototype(shape: Class | undefined, prototype: object | undefined): object {
  const key = prototype ?? shownBase;
  const known = prototypes.get(key) ?? makePrototype(shape?.prototype, prototype);
  prototypes.set(key, known);
  return known;
}

/**
 * @param shape the class's own prototype; `undefined` for an interface
 * @param prototype that of the class constructed: the same, or a subclass's
 */
function makePrototype(shape: object | undefined, prototype: object | undefined): object {
  const find = (key: PropertyKey) =>
    prototype === undefined ? undefined : onChain(prototype, shape, key);
  return new Proxy(prototype === undefined ? shownBase : Object.create(prototype), {
    get(_, key, receiver) {
      const found = find(key);
      if (found?.below === true) return Reflect.get(found.holder, key, receiver);
      if (key === 'constructor' && found !== undefined) return found.descriptor.value;
      if (key in shownBase && !(key === 'toJSON' && found !== undefined))
        return Reflect.get(shownBase, key, receiver);
      const double = tied(receiver);
      if (double?.is !== 'double' || !hasMember(double, key, found !== undefined)) return undefined;
      return found === undefined
        ? addMember(double, key)
        : addShaped(double, key, found.descriptor);
    },
    set(_, key, value, receiver) {
      const double = tied(receiver);
      if (double?.is !== 'double')
        return Reflect.defineProperty(receiver, key, {
          value,
          writable: true,
          enumerable: true,
          configurable: true,
        });
      defineSlot(double, key, undefined);
      return Reflect.set(receiver, key, value);
    },
    has: (_, key) =>
      key in shownBase || (prototype === undefined ? namesMember(key) : find(key) !== undefined),
  });
}

interface Found {
  readonly holder: object;
  readonly descriptor: PropertyDescriptor;
  /** Whether a subclass has it: it is no part of the class that is stood in for. */
  readonly below: boolean;
}

/** Where a member is defined on a class's prototype chain. */
function onChain(
  prototype: object,
  shape: object | undefined,
  key: PropertyKey,
): Found | undefined {
  let below = prototype !== shape;
  for (const holder of chainOf(prototype)) {
    if (holder === shape) below = false;
    const descriptor = Object.getOwnPropertyDescriptor(holder, key);
    if (descriptor !== undefined) return { holder, descriptor, below };
  }
  return undefined;
}

/** A member that the class has; its accessors and data read `undefined` until they are written. */
function addShaped(double: Double, key: PropertyKey, { value }: PropertyDescriptor): unknown {
  if (typeof value !== 'function') return undefined;
  const { whenUnplanned, shape } = double;
  const otherwise = isAsync(value) ? 'promise' : 'nothing';
  const member = memberOf(double, [key], { otherwise, whenUnplanned, real: value, shape });
  const recorded = standingFor(member, key);
  Object.defineProperty(recorded, 'length', { value: value.length, configurable: true });
  return defineSlot(double, key, recorded);
}

/** A member that is used for the first time; a class's stand-in may be asked for fields, and lets none be called. */
function addMember(double: Double, key: PropertyKey): unknown {
  const { whenUnplanned, shape } = double;
  const otherwise = shape === undefined ? 'nothing' : 'unknown';
  const recorded = standingFor(memberOf(double, [key], { otherwise, whenUnplanned, shape }), key);
  if (shape === undefined) Object.setPrototypeOf(recorded, memberPrototype);
  return defineSlot(double, key, recorded);
}

/** Members of members, as `app.view.use` has them, appear in the same way. */
const memberPrototype: object = new Proxy(Function.prototype, {
  get(_, key, receiver) {
    if (key === inspected) return show;
    const outer = namesMember(key) && !(key in Function.prototype) ? tied(receiver) : undefined;
    if (outer?.is !== 'member') return Reflect.get(Function.prototype, key, receiver);
    const { journal, target, whenUnplanned } = outer;
    const double = { journal, name: target.double };
    const recorded: RecordedFunction = standingFor(
      memberOf(double, [...target.keys, key], { whenUnplanned }),
      key,
    );
    Object.setPrototypeOf(recorded, memberPrototype);
    Object.defineProperty(receiver, key, {
      value: recorded,
      writable: true,
      enumerable: true,
      configurable: true,
    });
    return recorded;
  },
});

/** Makes a member an own property; what is written to it is recorded, and read from then on. */
function defineSlot<T>({ journal, name, object }: Double, key: PropertyKey, value: T): T {
  const target = targetAt(journal, name, [key]);
  let current: unknown = value;
  const keep = (_: unknown, __: unknown, [written]: unknown[]) => {
    current = written;
  };
  function write(this: unknown, written: unknown): void {
    recordCall(journal, target, 'write', this, [written], write, keep, undefined);
  }
  Object.defineProperty(object, key, {
    get: () => current,
    set: write,
    enumerable: true,
    configurable: true,
  });
  return value;
}

/** Whether a stand-in has a member below a key: what its class has, or what no framework would probe for. */
function hasMember({ names }: Double, key: PropertyKey, isShaped: boolean): boolean {
  if (typeof key === 'string' && names?.also?.has(key) === true) return true;
  if (names?.members !== undefined) return typeof key === 'string' && names.members.has(key);
  return isShaped || namesMember(key);
}

/** What promises, runners and frameworks look for to tell what they were given. */
const probes: ReadonlySet<string> = new Set(['then', 'nodeType', 'tagName', 'asymmetricMatch']);

/** Whether a key is one that a double has a member for: none that a framework asks for. */
export function namesMember(key: PropertyKey): key is string {
  return typeof key === 'string' && !probes.has(key) && !/^(?:[_$]|@@)/.test(key);
}
