import { copyBytes, copyState } from './copy-state.ts';
import { noteExtras } from './extras.ts';
import { type Gap, makeGap } from './gap.ts';
import { type Kind, kindOf } from './kind.ts';
import { type HeldReveal, makeRevealed, revealFor } from './revealed.ts';
import { entriesOf, itemsOf } from './slots.ts';

/** What a copy is made with beside its value. */
interface CopyOptions {
  /** How to look into instances of some classes. Default: none. */
  readonly reveals?: readonly HeldReveal[];
}

/** How much one copy may take: objects and array elements, levels of nesting, bytes of buffers. Past it the place is marked with a gap. */
const budget = { nodes: 100_000, depth: 200, bytes: 16 * 1024 * 1024 };

/** One object of a copy and what it was made from; `next` leads to those made before it. */
export interface Made {
  readonly original: object;
  readonly copy: object;
  readonly next: Made | undefined;
  /** The one inside which it was made. */
  readonly above: Made | undefined;
}

/** Every object that a copy made, the latest first; `undefined` if there was none to make. */
export type Copies = Made | undefined;

/** Whether a value is its own copy: a primitive or a function. */
export function isLeaf(value: unknown): boolean {
  return typeof value !== 'object' || value === null;
}

/** Whether a list can be kept as it is, with nothing in it that could change. */
export function holdsLeaves(values: readonly unknown[]): boolean {
  for (let at = 0; at < values.length; at++) {
    const value = values[at];
    if (typeof value === 'object' && value !== null) return false;
  }
  return true;
}

/**
 * Copies a value as it is at this moment.
 *
 * Plain objects, arrays, the platform's types and class instances are copied by own properties, their
 * prototype kept; what hides its state is kept by reference. Runs no getter, `toJSON` or iterator.
 * Never throws: what cannot be read is marked with a gap.
 *
 * @example
 * const copy = copyOf({ seconds: 30, at: { ra: 83.6, dec: 22 } });
 */
export function copyOf<T>(value: T, options: CopyOptions = {}): T {
  return isLeaf(value) ? value : (copyAny(startCopying(options), value) as T);
}

/** Copies a list of arguments, and says what was made of what. */
export function copyList(
  values: readonly unknown[],
  options: CopyOptions = {},
): { readonly values: readonly unknown[]; readonly copies: Copies } {
  const copying = startCopying(options);
  const copied: unknown[] = [];
  for (let at = 0; at < values.length; at++) copied.push(copyAny(copying, values[at]));
  return { values: copied, copies: copying.made };
}

interface Copying {
  made: Copies;
  count: number;
  /** What is being copied at this moment, and how deep that is. */
  above: Made | undefined;
  level: number;
  /** From original to copy, once there are very many. */
  index: Map<object, object> | undefined;
  readonly reveals: readonly HeldReveal[];
  /** How many objects and array elements it may still copy. */
  nodes: number;
  /** How many bytes of buffers. */
  bytes: number;
}

const noReveals: readonly HeldReveal[] = [];

function startCopying({ reveals = noReveals }: CopyOptions): Copying {
  return {
    made: undefined,
    count: 0,
    above: undefined,
    level: 0,
    index: undefined,
    reveals,
    nodes: budget.nodes,
    bytes: budget.bytes,
  };
}

function copyAny(copying: Copying, value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  const known = copyMade(copying, value);
  if (known !== undefined) return known;
  const { above, level } = copying;
  if (level >= budget.depth) return makeGap('bound', undefined, 'nested too deep to record');
  if (--copying.nodes < 0) return tooLarge();
  try {
    const reveal = copying.reveals.length === 0 ? undefined : revealFor(copying.reveals, value);
    if (reveal !== undefined) return copyRevealed(copying, value, reveal);
    return copyObject(copying, value, kindOf(value));
  } catch {
    return makeGap('unreadable', value, 'could not be read');
  } finally {
    copying.above = above;
    copying.level = level;
  }
}

/** An instance by what the user says it holds; if that fails, the copy says so with the user's words. */
function copyRevealed(copying: Copying, value: object, { type, content }: HeldReveal): unknown {
  try {
    const held = copyAny(copying, content(value));
    return remember(copying, value, makeRevealed(type, held));
  } catch (error) {
    const said = error instanceof Error ? error.message : String(error);
    return makeGap('unreadable', undefined, `${type.name}, whose reveal threw: ${said}`);
  }
}

/** A copy of what can be seen of an object that hides its state: its enumerable own properties. */
export function shownPart(value: object): object {
  const copying = startCopying({});
  try {
    return addOwn(copying, value, {});
  } catch {
    return {};
  }
}

/**
 * A part that stands in a value twice stands in its copy twice as well, once there are more than a few
 * parts: looking each up costs as much as copying it. Cycles are always found among what is being
 * copied, and parts shared over and over, which would multiply, once there are very many.
 */
const fewParts = 12;
const manyParts = 2_000;

function copyMade(copying: Copying, original: object): object | undefined {
  const { count, index } = copying;
  if (index !== undefined) return index.get(original);
  if (count <= fewParts) {
    for (let made = copying.made; made !== undefined; made = made.next) {
      if (made.original === original) return made.copy;
    }
    return undefined;
  }
  for (let { above } = copying; above !== undefined; above = above.above) {
    if (above.original === original) return above.copy;
  }
  return undefined;
}

function remember<T extends object>(copying: Copying, original: object, copy: T): T {
  const made: Made = { original, copy, next: copying.made, above: copying.above };
  copying.made = made;
  copying.above = made;
  copying.level++;
  copying.count++;
  if (copying.index !== undefined) copying.index.set(original, copy);
  else if (copying.count > manyParts) copying.index = indexOf(made);
  return copy;
}

function indexOf(copies: Copies): Map<object, object> {
  const index = new Map<object, object>();
  for (let made = copies; made !== undefined; made = made.next) index.set(made.original, made.copy);
  return index;
}

/** What a copy was made of; `undefined` if it was kept by reference, or comes from elsewhere. */
export function originalOf(copies: Copies, copy: object): object | undefined {
  for (let made = copies; made !== undefined; made = made.next) {
    if (made.copy === copy) return made.original;
  }
  return undefined;
}

function copyObject(copying: Copying, value: object, kind: Kind): unknown {
  switch (kind) {
    case 'plain':
    case 'instance':
      return copyProperties(copying, value);
    case 'array':
      return copyArray(copying, value as unknown[]);
    case 'hidden':
    case 'kept':
      return value;
    case 'map': {
      const copy = remember(copying, value, alike(value, new Map()));
      for (const [key, held] of entriesOf(value)) {
        if (copying.nodes < 0) break;
        mapSet.call(copy, copyAny(copying, key), copyAny(copying, held));
        if (--copying.nodes < 0) mapSet.call(copy, tooLarge(), tooLarge());
      }
      return addOwn(copying, value, copy);
    }
    case 'set': {
      const copy = remember(copying, value, alike(value, new Set()));
      for (const held of itemsOf(value)) {
        if (copying.nodes < 0) break;
        setAdd.call(copy, copyAny(copying, held));
        if (--copying.nodes < 0) setAdd.call(copy, tooLarge());
      }
      return addOwn(copying, value, copy);
    }
    case 'typed':
    case 'buffer':
    case 'view': {
      const held = copyBytes(value, kind, copying.bytes);
      if (held === undefined) return tooLarge();
      copying.bytes -= held.byteLength;
      return addOwn(copying, value, remember(copying, value, alike(value, held)));
    }
    default: {
      const copy = remember(copying, value, alike(value, copyState(value, kind)));
      return addOwn(copying, value, copy, kind === 'error' ? errorKeys : none);
    }
  }
}

/** A mark of its own each time: two of them must not be taken for the same value. */
function tooLarge(): Gap {
  return makeGap('bound', undefined, 'too large to record');
}

// Taken once, so that a method overridden by a subclass or replaced later is never run.
const mapSet = Map.prototype.set;
const setAdd = Set.prototype.add;
// biome-ignore lint/suspicious/noExplicitAny: the standard library types it so.
const lookupGetter: (this: object, key: PropertyKey) => any = Reflect.get(
  Object.prototype,
  '__lookupGetter__',
);
const { getPrototypeOf, setPrototypeOf, getOwnPropertyDescriptor, getOwnPropertySymbols } = Object;

/** Gives the copy the original's prototype. */
function alike<T extends object>(original: object, copy: T): T {
  const prototype = getPrototypeOf(original);
  return getPrototypeOf(copy) === prototype ? copy : setPrototypeOf(copy, prototype);
}

/** A plain object or an instance, by its enumerable own properties. */
function copyProperties(copying: Copying, value: object): object {
  const keys = Object.keys(value);
  copying.nodes -= keys.length;
  if (copying.nodes < 0) return tooLarge();
  for (let at = 0; at < keys.length; at++) {
    if (lookupGetter.call(value, keys[at] as string) !== undefined)
      return copyOneByOne(copying, value);
  }
  if (getOwnPropertySymbols(value).length > 0) return copyOneByOne(copying, value);
  // Every own property holds data, so that spreading runs nothing; it is by far the fastest copy.
  const copy: Record<string, unknown> = { ...value };
  remember(copying, value, alike(value, copy));
  for (let at = 0; at < keys.length; at++) {
    const held = copy[keys[at] as string];
    if (typeof held === 'object' && held !== null)
      copy[keys[at] as string] = copyAny(copying, held);
  }
  return copy;
}

function copyOneByOne(copying: Copying, value: object): object {
  return addOwn(copying, value, remember(copying, value, alike(value, {})));
}

function copyArray(copying: Copying, value: readonly unknown[]): unknown[] {
  const copy: unknown[] = remember(copying, value as object as unknown[], alike(value, []));
  const { length } = value;
  for (let at = 0; at < length; at++) {
    if (--copying.nodes < 0) {
      arrayPush.call(copy, makeGap('bound', undefined, `${length - at} more, too large to record`));
      return copy;
    }
    const accessor = lookupGetter.call(value, at);
    const held = accessor === undefined ? value[at] : makeGap('accessor', accessor, 'accessor');
    if (held === undefined && !Object.hasOwn(value, at)) copy.length = at + 1;
    else
      arrayPush.call(copy, isLeaf(held) || accessor !== undefined ? held : copyAny(copying, held));
  }
  if (Object.keys(value).length === copy.length) return copy;
  addOwn(copying, value, copy);
  noteExtras(copy);
  return copy;
}

const arrayPush = Array.prototype.push;

/** What an error says of itself though it cannot be enumerated. The stack is not part of what it says. */
const errorKeys: readonly PropertyKey[] = ['name', 'message', 'cause', 'errors'];

const none: readonly PropertyKey[] = [];

/**
 * Adds the own properties that a copy made in another way does not have yet: those that can be
 * enumerated, and of the others those that are named.
 */
function addOwn<T extends object>(
  copying: Copying,
  value: object,
  copy: T,
  unlisted: readonly PropertyKey[] = none,
): T {
  for (const key of Reflect.ownKeys(value)) {
    if (Object.hasOwn(copy, key)) continue;
    const descriptor = getOwnPropertyDescriptor(value, key);
    if (descriptor === undefined) continue;
    if (!descriptor.enumerable && !unlisted.includes(key)) continue;
    const held =
      'value' in descriptor
        ? copyAny(copying, descriptor.value)
        : makeGap('accessor', descriptor.get ?? descriptor.set, 'accessor');
    if (typeof key === 'symbol') noteExtras(copy);
    Object.defineProperty(copy, key, {
      value: held,
      writable: true,
      configurable: true,
      enumerable: descriptor.enumerable ?? false,
    });
  }
  return copy;
}
