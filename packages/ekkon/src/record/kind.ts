import { isOwn, printsAs } from './prints-as.ts';
import {
  boxReaders,
  bufferSize,
  dateTime,
  mapSize,
  paramsText,
  regexpGlobal,
  setSize,
  typedName,
  urlHref,
} from './slots.ts';

/** What an object holds, as far as copying, comparing and printing are concerned. */
export type Kind =
  | 'plain'
  | 'array'
  | 'map'
  | 'set'
  | 'date'
  | 'regexp'
  | 'typed'
  | 'buffer'
  | 'view'
  | 'boxed'
  | 'error'
  | 'url'
  | 'params'
  | 'instance'
  /** State that cannot be seen from outside: compared by identity. */
  | 'hidden'
  /** Ekkon's own, and promises and weak collections: kept as they are, compared by identity. */
  | 'kept';

/** Each asks for an internal slot, and throws if there is none. */
const slots: readonly (readonly [Kind, (this: object) => unknown])[] = [
  ['map', mapSize],
  ['set', setSize],
  ['date', dateTime],
  ['regexp', regexpGlobal],
  ['buffer', bufferSize],
  ['url', urlHref],
  ['params', paramsText],
  ...boxReaders.map((read) => ['boxed', read] as const),
];

/** What objects of a prototype turned out to be. A pure memo: the answer does not depend on who asked first. */
const expected = new WeakMap<object, Kind>();

/**
 * Tells what an object holds. Runs no code of the object's class; a proxy's traps may run and may throw.
 */
export function kindOf(value: object): Kind {
  const prototype: object | null = Object.getPrototypeOf(value);
  if (Array.isArray(value)) return 'array';
  if (prototype === Object.prototype || prototype === null) return 'plain';
  const known = expected.get(prototype);
  if (known === 'hidden' || known === 'error' || known === 'plain') return known;
  if (known === 'instance') return Reflect.ownKeys(value).length === 0 ? 'hidden' : known;
  if (ArrayBuffer.isView(value)) return typedName.call(value) === undefined ? 'view' : 'typed';
  if (isOwn(value) || Object.hasOwn(value, printsAs) || value instanceof Promise) return 'kept';
  const kind = slotKind(value, known) ?? prototypeKind(prototype);
  // A fake made on the prototype of a platform's type says nothing about the real ones.
  if (kind !== 'instance' || !isPlatforms(prototype)) expected.set(prototype, kind);
  return kind === 'instance' && Reflect.ownKeys(value).length === 0 ? 'hidden' : kind;
}

/** Whether a prototype, or one that it inherits from, is the platform's own and not the root of all. */
function isPlatforms(prototype: object): boolean {
  for (
    let current: object | null = prototype;
    current !== null;
    current = Object.getPrototypeOf(current)
  ) {
    const made: unknown = Object.getOwnPropertyDescriptor(current, 'constructor')?.value;
    const isRoot = Object.getPrototypeOf(current) === null;
    if (
      !isRoot &&
      typeof made === 'function' &&
      nativeSource.test(Function.prototype.toString.call(made))
    )
      return true;
  }
  return false;
}

const nativeSource = /\{\s*\[native code\]\s*\}$/;

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

function prototypeKind(prototype: object): Kind {
  let kind: Kind = 'instance';
  let current: object | null = prototype;
  for (let depth = 0; current !== null && depth < 64; depth++) {
    const next: object | null = Object.getPrototypeOf(current);
    if (isErrorPrototype(current)) return 'error';
    if (next === null && Object.hasOwn(current, '__lookupGetter__')) {
      // The root of another realm's objects, or of this one's.
      return depth === 0 ? 'plain' : kind;
    }
    if (declaresPrivateState(current)) kind = 'hidden';
    current = next;
  }
  return kind;
}

function isErrorPrototype(prototype: object): boolean {
  if (prototype === Error.prototype) return true;
  const name = Object.getOwnPropertyDescriptor(prototype, 'name')?.value;
  return name === 'Error' && Object.hasOwn(prototype, 'message');
}

/** Strings and comments of a class's source, where a `#` means nothing. */
const proseInSource = /\/\*[\s\S]*?\*\/|\/\/[^\n]*|'(?:\\.|[^'\\\n])*'|"(?:\\.|[^"\\\n])*"/g;

/** A private name that is not called: a field. What compilers write for one counts as well. */
const privateField = /#[A-Za-z_$][\w$]*(?![\w$]*\s*\()|__privateAdd\(|__classPrivateFieldInit/;

function declaresPrivateState(prototype: object): boolean {
  const made: unknown = Object.getOwnPropertyDescriptor(prototype, 'constructor')?.value;
  if (typeof made !== 'function') return false;
  const source = Function.prototype.toString.call(made);
  return privateField.test(source.replace(proseInSource, ''));
}
