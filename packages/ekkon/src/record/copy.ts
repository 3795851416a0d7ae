import { copyBytes, copyState } from './copy-state.ts';
import { makeGap } from './gap.ts';
import { type Kind, kindOf } from './kind.ts';
import { type HeldReveal, makeRevealed, revealFor } from './revealed.ts';

/** How much one copy may take. Past it the place is marked with a gap. */
export interface CopyBudget {
  /** Objects and array elements. */
  readonly nodes: number;
  /** Levels of nesting. */
  readonly depth: number;
  /** Bytes of buffers. */
  readonly bytes: number;
}

/** What a copy is made with beside its value. */
export interface CopyOptions {
  /** Default `copyBudget`. */
  readonly budget?: CopyBudget;
  /** How to look into instances of some classes. Default: none. */
  readonly reveals?: readonly HeldReveal[];
}

export const copyBudget: CopyBudget = { nodes: 100_000, depth: 200, bytes: 16 * 1024 * 1024 };

/** One object of a copy and what it was made from; `next` leads to those made before it. */
export interface Made {
  readonly original: object;
  readonly copy: object;
  readonly next: Made | undefined;
}

/** Every object that a copy made, the latest first; `undefined` where there was none to make. */
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
 * const { value } = copyOf({ seconds: 30, at: { ra: 83.6, dec: 22 } });
 */
export function copyOf<T>(value: T, options: CopyOptions = {}): T {
  return isLeaf(value) ? value : (copyAny(startCopying(options), value, 0) as T);
}

/** Copies a list of arguments, and says what was made of what. */
export function copyList(
  values: readonly unknown[],
  options: CopyOptions = {},
): { readonly values: readonly unknown[]; readonly copies: Copies } {
  const copying = startCopying(options);
  const copied: unknown[] = [];
  for (let at = 0; at < values.length; at++) copied.push(copyAny(copying, values[at], 0));
  return { values: copied, copies: copying.made };
}

interface Copying {
  made: Copies;
  count: number;
  /** From original to copy, once there are more than a few. */
  index: Map<object, object> | undefined;
  readonly budget: CopyBudget;
  readonly reveals: readonly HeldReveal[];
  nodes: number;
  bytes: number;
}

const noReveals: readonly HeldReveal[] = [];

function startCopying({ budget = copyBudget, reveals = noReveals }: CopyOptions): Copying {
  const { nodes, bytes } = budget;
  return { made: undefined, count: 0, index: undefined, budget, reveals, nodes, bytes };
}

function copyAny(copying: Copying, value: unknown, depth: number): unknown {
  if (typeof value !== 'object' || value === null) return value;
  const known = copyMade(copying, value);
  if (known !== undefined) return known;
  if (depth >= copying.budget.depth)
    return makeGap('bound', undefined, 'nested too deep to record');
  if (--copying.nodes < 0) return makeGap('bound', undefined, 'too large to record');
  try {
    const reveal = copying.reveals.length === 0 ? undefined : revealFor(copying.reveals, value);
    if (reveal !== undefined) return copyRevealed(copying, value, reveal, depth);
    return copyObject(copying, value, kindOf(value), depth);
  } catch {
    return makeGap('unreadable', value, 'could not be read');
  }
}

/** An instance by what the user says it holds; where that fails, the copy says so with the user's words. */
function copyRevealed(
  copying: Copying,
  value: object,
  { type, content }: HeldReveal,
  depth: number,
): unknown {
  try {
    const held = copyAny(copying, content(value), depth + 1);
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
    return addOwn(copying, value, {}, 0);
  } catch {
    return {};
  }
}

/** How many originals are searched one by one before an index is made. */
const indexFrom = 12;

function copyMade(copying: Copying, original: object): object | undefined {
  if (copying.index !== undefined) return copying.index.get(original);
  for (let made = copying.made; made !== undefined; made = made.next) {
    if (made.original === original) return made.copy;
  }
  return undefined;
}

function remember<T extends object>(copying: Copying, original: object, copy: T): T {
  copying.made = { original, copy, next: copying.made };
  copying.count++;
  if (copying.index !== undefined) copying.index.set(original, copy);
  else if (copying.count > indexFrom) copying.index = indexOf(copying.made);
  return copy;
}

function indexOf(copies: Copies): Map<object, object> {
  const index = new Map<object, object>();
  for (let made = copies; made !== undefined; made = made.next) index.set(made.original, made.copy);
  return index;
}

/** What a copy was made of; `undefined` where it was kept by reference, or comes from elsewhere. */
export function originalOf(copies: Copies, copy: object): object | undefined {
  for (let made = copies; made !== undefined; made = made.next) {
    if (made.copy === copy) return made.original;
  }
  return undefined;
}

function copyObject(copying: Copying, value: object, kind: Kind, depth: number): unknown {
  switch (kind) {
    case 'plain':
    case 'instance':
      return copyProperties(copying, value, depth);
    case 'array':
      return copyArray(copying, value as unknown[], depth);
    case 'hidden':
    case 'kept':
      return value;
    case 'map': {
      const copy = remember(copying, value, alike(value, new Map()));
      mapForEach.call(value, (held, key) => {
        if (copying.nodes < 0) return;
        mapSet.call(copy, copyAny(copying, key, depth + 1), copyAny(copying, held, depth + 1));
        if (--copying.nodes < 0) mapSet.call(copy, tooLarge, tooLarge);
      });
      return addOwn(copying, value, copy, depth);
    }
    case 'set': {
      const copy = remember(copying, value, alike(value, new Set()));
      setForEach.call(value, (held) => {
        if (copying.nodes < 0) return;
        setAdd.call(copy, copyAny(copying, held, depth + 1));
        if (--copying.nodes < 0) setAdd.call(copy, tooLarge);
      });
      return addOwn(copying, value, copy, depth);
    }
    case 'typed':
    case 'buffer':
    case 'view': {
      const held = copyBytes(value, kind, copying.bytes);
      if (held === undefined) return tooLarge;
      copying.bytes -= held.byteLength;
      return addOwn(copying, value, remember(copying, value, alike(value, held)), depth);
    }
    default:
      return addOwn(
        copying,
        value,
        remember(copying, value, alike(value, copyState(value, kind))),
        depth,
      );
  }
}

const tooLarge = makeGap('bound', undefined, 'too large to record');

// Taken once, so that a method overridden by a subclass or replaced later is never run.
const mapForEach: (this: object, each: (held: unknown, key: unknown) => void) => void =
  Map.prototype.forEach;
const setForEach: (this: object, each: (held: unknown) => void) => void = Set.prototype.forEach;
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
function copyProperties(copying: Copying, value: object, depth: number): object {
  const keys = Object.keys(value);
  copying.nodes -= keys.length;
  if (copying.nodes < 0) return tooLarge;
  for (let at = 0; at < keys.length; at++) {
    if (lookupGetter.call(value, keys[at] as string) !== undefined)
      return copyOneByOne(copying, value, depth);
  }
  if (getOwnPropertySymbols(value).length > 0) return copyOneByOne(copying, value, depth);
  // Every own property holds data, so that spreading runs nothing; it is by far the fastest copy.
  const copy: Record<string, unknown> = { ...value };
  remember(copying, value, alike(value, copy));
  for (let at = 0; at < keys.length; at++) {
    const held = copy[keys[at] as string];
    if (typeof held === 'object' && held !== null)
      copy[keys[at] as string] = copyAny(copying, held, depth + 1);
  }
  return copy;
}

function copyOneByOne(copying: Copying, value: object, depth: number): object {
  return addOwn(copying, value, remember(copying, value, alike(value, {})), depth);
}

function copyArray(copying: Copying, value: readonly unknown[], depth: number): unknown[] {
  const copy: unknown[] = remember(copying, value as object as unknown[], alike(value, []));
  const { length } = value;
  for (let at = 0; at < length; at++) {
    if (--copying.nodes < 0) {
      arrayPush.call(copy, makeGap('bound', undefined, `${length - at} more, too large to record`));
      return copy;
    }
    const descriptor = getOwnPropertyDescriptor(value, at);
    if (descriptor === undefined) copy.length = at + 1;
    else if ('value' in descriptor)
      arrayPush.call(copy, copyAny(copying, descriptor.value, depth + 1));
    else arrayPush.call(copy, makeGap('accessor', descriptor.get, 'accessor'));
  }
  return Object.keys(value).length === length ? copy : addOwn(copying, value, copy, depth);
}

const arrayPush = Array.prototype.push;

/** What an error says of itself though it cannot be enumerated. The stack is not part of what it says. */
const errorKeys: readonly PropertyKey[] = ['name', 'message', 'cause', 'errors'];

/** Adds the own properties that a copy made in another way does not have yet. */
function addOwn<T extends object>(copying: Copying, value: object, copy: T, depth: number): T {
  for (const key of Reflect.ownKeys(value)) {
    if (Object.hasOwn(copy, key)) continue;
    const descriptor = getOwnPropertyDescriptor(value, key);
    if (descriptor === undefined) continue;
    if (!descriptor.enumerable && !(copy instanceof Error && errorKeys.includes(key))) continue;
    const held =
      'value' in descriptor
        ? copyAny(copying, descriptor.value, depth + 1)
        : makeGap('accessor', descriptor.get ?? descriptor.set, 'accessor');
    Object.defineProperty(copy, key, {
      value: held,
      writable: true,
      configurable: true,
      enumerable: descriptor.enumerable ?? false,
    });
  }
  return copy;
}
