import { isFrameworkPart } from './framework-parts.ts';
import { isNative } from './is-native.ts';
import { recognise } from './platform/table.ts';
import { isOfOtherCopy, isOwn, printsAs } from './prints-as.ts';
import {
  boxReaders,
  bufferSize,
  dateTime,
  isView,
  mapSize,
  regexpGlobal,
  setSize,
} from './slots.ts';

/** The kind of an object; `kinds` has everything about each. */
export type Kind =
  | 'plain'
  | 'array'
  | 'map'
  | 'set'
  | 'date'
  | 'regexp'
  /** A buffer, or a view of one. */
  | 'bytes'
  | 'boxed'
  | 'error'
  | 'instance'
  | 'function'
  /** Of a platform class that is compared by the visible state of its instances. */
  | 'platform'
  /** With an identity: never the same as another, whatever it holds. */
  | 'thing'
  /** Of a class of the platform that shows nothing: compared by identity. */
  | 'hidden'
  /** Ekkon's own. */
  | 'own';

/** Each asks for an internal slot, and throws if there is none. */
const slots: readonly (readonly [Kind, (this: object) => unknown])[] = [
  ['map', mapSize],
  ['set', setSize],
  ['date', dateTime],
  ['regexp', regexpGlobal],
  ['bytes', bufferSize],
  ...boxReaders.map((read) => ['boxed', read] as const),
];

/** The kinds found for the objects of a prototype. A pure memo: the result does not depend on the first caller. */
const expected = new WeakMap<object, Kind>();

const hasSlot: ReadonlySet<Kind> = new Set(slots.map(([kind]) => kind));

/** Returns the kind of an object. Runs no code of the object's class; a proxy's traps may run and may throw. */
export function kindOf(value: object): Kind {
  if (typeof value === 'function') return 'function';
  const prototype: object | null = Object.getPrototypeOf(value);
  if (Array.isArray(value)) return 'array';
  if (isFrameworkPart(value)) return 'thing';
  if (prototype === Object.prototype || prototype === null) return 'plain';
  const known = expected.get(prototype);
  if (known !== undefined && !hasSlot.has(known)) return known;
  if (isView(value)) return 'bytes';
  if (isOwn(value) || Object.hasOwn(value, printsAs) || isOfOtherCopy(value)) return 'own';
  if (value === globalThis) return 'thing';
  const kind = slotKind(value, known);
  if (kind !== undefined) {
    expected.set(prototype, kind);
    return kind;
  }
  const type = kindOfClass(prototype);
  // A fake made on the prototype of a platform's type says nothing about the real ones.
  if (known === undefined && !isFake(type, prototype)) expected.set(prototype, type);
  return type;
}

/** Whether a prototype's real objects have a slot, which the one that was looked at had not. */
function isFake(kind: Kind, prototype: object): boolean {
  return (
    kind === 'hidden' && slotted.some((each) => each === prototype || isAbove(each, prototype))
  );
}

/**
 * Whether an object is of a class with state in the platform's slots, but has no such slot: a proxy of a map, for
 * example. Its content cannot be read.
 */
export function isVeiled(value: unknown): value is object {
  if (typeof value !== 'object' || value === null) return false;
  const kind = kindOf(value);
  return kind === 'hidden' && isFake(kind, Object.getPrototypeOf(value));
}

const slotted: readonly object[] = [Map, Set, Date, RegExp, ArrayBuffer, DataView, Uint8Array].map(
  ({ prototype }) => prototype,
);

function isAbove(holder: object, prototype: object): boolean {
  return Object.prototype.isPrototypeOf.call(holder, prototype);
}

/** The kind of a class's objects, as far as its prototypes show. */
function kindOfClass(prototype: object): Kind {
  const recognised = recognise(prototype);
  if (recognised !== undefined) return recognised.classes.length > 0 ? 'platform' : 'thing';
  let kind: Kind = 'instance';
  let current: object | null = prototype;
  for (let depth = 0; current !== null && depth < 64; depth++) {
    const next: object | null = Object.getPrototypeOf(current);
    if (isErrorPrototype(current)) return 'error';
    if (next === null && Object.hasOwn(current, '__lookupGetter__')) {
      // The root of another realm's objects, or of this one's.
      return depth === 0 ? 'plain' : kind;
    }
    if (isPlatforms(current)) kind = 'hidden';
    current = next;
  }
  return kind;
}

/** Whether a prototype belongs to a class of the platform, or to its iterators and generators, which have none. */
function isPlatforms(prototype: object): boolean {
  const made: unknown = Object.getOwnPropertyDescriptor(prototype, 'constructor')?.value;
  if (typeof made === 'function') return isNative(made);
  return Object.values(Object.getOwnPropertyDescriptors(prototype)).some(({ value }) =>
    isNative(value),
  );
}

/** The kind whose slot the object has; the one its prototype suggests is asked first. */
function slotKind(value: object, likely: Kind | undefined): Kind | undefined {
  const [first, rest] =
    likely === undefined ? [[], slots] : [slots.filter(([kind]) => kind === likely), slots];
  for (const [kind, read] of [...first, ...rest]) {
    try {
      read.call(value);
      return kind;
    } catch {
      // No such slot: the next one may be there.
    }
  }
  return undefined;
}

function isErrorPrototype(prototype: object): boolean {
  if (prototype === Error.prototype) return true;
  const name = Object.getOwnPropertyDescriptor(prototype, 'name')?.value;
  return name === 'Error' && Object.hasOwn(prototype, 'message');
}
