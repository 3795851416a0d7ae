import { doublesShown } from '../record/double-names.ts';
import type { Journal } from '../record/journal.ts';
import {
  type Class,
  type Double,
  type Level,
  type Member,
  type Names,
  newMember,
} from '../record/member.ts';
import { recordCall } from '../record/record-call.ts';
import { type Target, targetAt } from '../record/target.ts';
import { tie, tied } from '../record/tie.ts';
import type { Below } from '../value/below.ts';
import { declaresData } from '../value/declared-fields.ts';
import { printsAs } from '../value/prints-as.ts';
import { chainOf } from '../value/prototype-chain.ts';
import { otherwiseFor } from './doubles.ts';
import { propertyInPlace } from './property.ts';
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
  // Without it a runner's deep equality takes two stand-ins for equal that were not used yet.
  Object.defineProperty(standIn, Symbol.toStringTag, { value: name, configurable: true });
  const double: Double = {
    is: 'double',
    journal,
    name,
    object: standIn,
    whenUnplanned,
    shape,
    names,
    recordReads: (key) => recordReads({ ...double, keys: [] }, key),
    readBefore: new Set(),
  };
  tie(standIn, double);
  doublesShown(journal).set(`[stand-in ${name}]`, standIn);
  if (isClosed)
    for (const key of [...(names.members ?? []), ...(names.also ?? [])]) addMember(double, key);
  return standIn;
}

/** A double's member, or a member of its members, by the keys that lead there. */
export function memberOf(
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

/** The prototypes made so far, by the prototype of the class each stands for. */
const prototypes = new WeakMap<object, object>();

/**
 * The prototype of stand-ins. It holds no reference to one, and resolves members through the receiver: engines keep
 * whatever a prototype refers to until the next full collection, and that must not be a record.
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
  const handler: Required<Pick<ProxyHandler<object>, 'get' | 'set' | 'has'>> = {
    get(_, key, receiver) {
      const found = find(key);
      if (found?.below === true) return Reflect.get(found.holder, key, receiver);
      if (key === 'constructor' && found !== undefined) return found.descriptor.value;
      if (key in shownBase && !(key === 'toJSON' && found !== undefined))
        return Reflect.get(shownBase, key, receiver);
      const double = tied(receiver);
      if (double?.is !== 'double' || !hasMember(double, key, found !== undefined)) return undefined;
      if (found !== undefined) return addShaped(double, key, found.descriptor);
      const isData = double.shape !== undefined && declaresData(double.shape, String(key));
      if (!isData) return addMember(double, key);
      double.readBefore?.add(key);
      return undefined;
    },
    set(_, key, value, receiver) {
      const double = tied(receiver);
      if (double?.is !== 'double') return writePlainly(receiver, key, value);
      const target = targetAt(double.journal, double.name, [key]);
      makeSlot(double, target, key, undefined)(receiver, value, handler.set);
      return true;
    },
    has: (_, key) =>
      key in shownBase || (prototype === undefined ? namesMember(key) : find(key) !== undefined),
  };
  return new Proxy(prototype === undefined ? shownBase : Object.create(prototype), handler);
}

interface Found {
  readonly holder: object;
  readonly descriptor: PropertyDescriptor;
  /** Whether a subclass has it: it is not part of the class that is stood in for. */
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
  const otherwise = otherwiseFor(value);
  const member = memberOf(double, [key], { otherwise, whenUnplanned, real: value, shape });
  const recorded = standingFor(member, key);
  Object.defineProperty(recorded, 'length', { value: value.length, configurable: true });
  return defineSlot(double, key, recorded);
}

/** A member that is used for the first time; a class's stand-in may be asked for fields, and lets none be called. */
function addMember(double: Double, key: PropertyKey): unknown {
  const { whenUnplanned, shape } = double;
  const otherwise = shape === undefined ? 'nothing' : 'unknown';
  const parts = { otherwise, whenUnplanned, shape } as const;
  const recorded =
    shape === undefined
      ? openMember(double, [key], parts)
      : standingFor(memberOf(double, [key], parts), key);
  return defineSlot(double, key, recorded);
}

/** Writes a property of an object as if nothing stood on its prototype chain. */
function writePlainly(receiver: object, key: PropertyKey, value: unknown): boolean {
  return Reflect.defineProperty(receiver, key, {
    value,
    writable: true,
    enumerable: true,
    configurable: true,
  });
}

/** Members of members, such as `app.view.use`, appear in the same way; writes to them are recorded, too. */
const memberHandler: Required<Pick<ProxyHandler<object>, 'get' | 'set' | 'getPrototypeOf'>> = {
  // So that a member is an instance of `Function`.
  getPrototypeOf: () => Function.prototype,
  get(_, key, receiver) {
    if (key === inspected || key === 'toString') return show;
    const outer = namesMember(key) && !(key in Function.prototype) ? tied(receiver) : undefined;
    if (outer?.is !== 'member') return Reflect.get(Function.prototype, key, receiver);
    return addInner(receiver as RecordedFunction, outer, key);
  },
  set(_, key, value, receiver) {
    const outer = namesMember(key) && !(key in Function.prototype) ? tied(receiver) : undefined;
    if (outer?.is !== 'member') return writePlainly(receiver, key, value);
    const { journal, target } = outer;
    const slot = { journal, object: receiver as object };
    const inner = targetAt(journal, target.double, [...target.keys, key]);
    makeSlot(slot, inner, key, undefined)(receiver, value, memberHandler.set);
    return true;
  },
};

const memberPrototype: object = new Proxy(Function.prototype, memberHandler);

/** A member of an interface, which has members in turn. */
function openMember(
  { journal, name }: Pick<Double, 'journal' | 'name'>,
  keys: readonly PropertyKey[],
  parts: Parameters<typeof newMember>[2],
): RecordedFunction {
  const member = memberOf({ journal, name }, keys, {
    ...parts,
    recordReads: (key) => recordReads({ journal, name, keys, object: recorded }, key),
  });
  const recorded = standingFor(member, keys.at(-1) ?? name);
  Object.setPrototypeOf(recorded, memberPrototype);
  return recorded;
}

/** Gives a function that stands for a member a member of its own, which has members in turn. */
export function addInner(
  recorded: RecordedFunction,
  { journal, target, whenUnplanned }: Member,
  key: PropertyKey,
): RecordedFunction {
  const double = { journal, name: target.double };
  const inner = openMember(double, [...target.keys, key], { whenUnplanned });
  writePlainly(recorded, key, inner);
  return inner;
}

/** Makes a member an own property; writes to it are recorded, and reads from then on. */
export function defineSlot<T>(double: Double, key: PropertyKey, value: T): T {
  makeSlot(double, targetAt(double.journal, double.name, [key]), key, value);
  return value;
}

/** Makes such a property, and returns the function that writes to it for another caller. */
function makeSlot(
  { journal, object, readBefore }: Pick<Double, 'journal' | 'object' | 'readBefore'>,
  target: Target,
  key: PropertyKey,
  value: unknown,
): (receiver: unknown, written: unknown, below: Below) => void {
  let current: unknown = value;
  const keep = (_: unknown, __: unknown, [written]: unknown[]) => {
    current = written;
  };
  function write(this: unknown, written: unknown): void {
    recordCall(journal, target, 'write', this, [written], write, keep, undefined);
  }
  Object.defineProperty(object, key, {
    get() {
      if (typeof current !== 'function') readBefore?.add(key);
      return current;
    },
    set: write,
    enumerable: true,
    configurable: true,
  });
  return (receiver, written, below) => {
    recordCall(journal, target, 'write', receiver, [written], below, keep, undefined);
  };
}

/** An object with a property whose reads are to be recorded: a stand-in, or a member of one. */
interface Holder extends Pick<Double, 'journal' | 'name' | 'object' | 'readBefore'> {
  readonly shape?: Class | undefined;
  /** The keys that lead from the stand-in to it. */
  readonly keys: readonly PropertyKey[];
}

/** Records the reads of a property from now on; `undefined` if it was read before, or holds a function. */
function recordReads(holder: Holder, key: PropertyKey): Member | undefined {
  const { journal, name, object, keys, shape } = holder;
  const own = Object.getOwnPropertyDescriptor(object, key);
  const known = tied(own?.get);
  if (known?.is === 'member') return known;
  if (holder.readBefore?.has(key)) return undefined;
  const value: unknown = own === undefined ? undefined : Reflect.get(object, key);
  if (typeof value === 'function') return undefined;
  const member = newMember(journal, targetAt(journal, name, [...keys, key]), { shape });
  const found = { value, writable: true, enumerable: true, configurable: true };
  Object.defineProperty(
    object,
    key,
    propertyInPlace(member, object, key, found, undefined, 'takeOver').placed,
  );
  return member;
}

/** Whether a stand-in has a member below a key: one of its class, or any that no framework would probe for. */
function hasMember({ names }: Double, key: PropertyKey, isShaped: boolean): boolean {
  if (names?.also?.has(key) === true) return true;
  if (names?.members !== undefined) return names.members.has(key);
  // Only `using` reads it.
  return isShaped || namesMember(key) || key === Symbol.dispose;
}

/** Names that promises, runners and frameworks probe for. */
const probes: ReadonlySet<string> = new Set([
  'then',
  'toJSON',
  'nodeType',
  'tagName',
  'hasAttribute',
  'lift',
  'getter',
  'setter',
  'asymmetricMatch',
]);

/** Whether a key is one that a double has a member for: none that a framework asks for. */
export function namesMember(key: PropertyKey): key is string {
  if (typeof key !== 'string' || probes.has(key)) return false;
  return !key.startsWith('_') && !key.startsWith('$') && !key.startsWith('@@');
}
