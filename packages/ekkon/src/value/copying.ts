import { type Gap, makeGap } from './gap.ts';
import { type Kind, kindOf } from './kind.ts';
import { type HeldReveal, makeRevealed, revealFor } from './revealed.ts';

/** The options of a copy. */
export interface CopyOptions {
  /** How to look into instances of some classes. Default: none. */
  readonly reveals?: readonly HeldReveal[];
}

/**
 * The limits of one copy: objects and array elements, levels of nesting, bytes of buffers, and nested values of class
 * instances. Past a limit the place is marked with a gap.
 */
export const budget = {
  nodes: 100_000,
  depth: 200,
  bytes: 16 * 1024 * 1024,
  withinInstances: 1_000,
};

/** One object of a copy and its source; `next` leads to those made before it. */
export interface Made {
  readonly original: object;
  readonly copy: object;
  readonly next: Made | undefined;
  /** The one inside which it was made. */
  readonly above: Made | undefined;
}

/** Every object that a copy made, the latest first; `undefined` if there was none to make. */
export type Copies = Made | undefined;

export interface Copying {
  /** Copies an object by its kind. */
  readonly copyObject: (copying: Copying, value: object, kind: Kind) => unknown;
  /** Copies a part. */
  readonly copyAny: (copying: Copying, value: unknown) => unknown;
  made: Copies;
  count: number;
  /** The object that is being copied at this moment, and its depth. */
  above: Made | undefined;
  level: number;
  /** From original to copy, once there are very many. */
  index: Map<object, object> | undefined;
  /** The same of sets and maps alone, which cost more to compare than to look up. */
  collections: Map<object, object> | undefined;
  readonly reveals: readonly HeldReveal[];
  /** How many objects and array elements it may still copy. */
  nodes: number;
  /** Whether the object is nested in an instance: then `nodes` is the room left for that. */
  isWithin: boolean;
  /** How many bytes of buffers. */
  bytes: number;
  /** Something in it that another copy of Ekkon made. */
  ofOther: object | undefined;
}

const noReveals: readonly HeldReveal[] = [];

/** Copies a value within a copy's budget. Never throws: an unreadable place is marked with a gap. */
export function copyAny(copying: Copying, value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  const known = copyMade(copying, value);
  if (known !== undefined) return known;
  const { above, level } = copying;
  if (level >= budget.depth) return makeGap('bound', value, 'nested too deep to record');
  if (--copying.nodes < 0) return tooLarge(value);
  try {
    const reveal = copying.reveals.length === 0 ? undefined : revealFor(copying.reveals, value);
    if (reveal !== undefined) return copyRevealed(copying, value, reveal);
    return copying.copyObject(copying, value, kindOf(value));
  } catch {
    return makeGap('unreadable', value, 'could not be read');
  } finally {
    copying.above = above;
    copying.level = level;
  }
}

/** An instance with the state that the user reveals; if that fails, the copy has the user's error. */
function copyRevealed(copying: Copying, value: object, { type, content }: HeldReveal): unknown {
  try {
    const held = copyAny(copying, content(value));
    return remember(copying, value, makeRevealed(type, held));
  } catch (error) {
    const said = error instanceof Error ? error.message : String(error);
    return makeGap('unreadable', value, `${type.name}, whose reveal threw: ${said}`);
  }
}

/** An object by another one that stands for it, and holds the same in the open. */
export function copyObserved(copying: Copying, value: object, observed: object): object {
  const copy = copying.copyObject(copying, observed, kindOf(observed)) as object;
  return remember(copying, value, copy);
}

export function startCopying(
  copyObject: Copying['copyObject'],
  { reveals = noReveals }: CopyOptions,
): Copying {
  return {
    copyObject,
    copyAny,
    made: undefined,
    count: 0,
    above: undefined,
    level: 0,
    index: undefined,
    collections: undefined,
    reveals,
    nodes: budget.nodes,
    isWithin: false,
    bytes: budget.bytes,
    ofOther: undefined,
  };
}

/**
 * A part that occurs twice in a value occurs twice in its copy as well, if there are more than a few parts, because
 * looking each up costs as much as copying it. Sets and maps are looked up. Cycles are always found along the current
 * path, and multiply shared parts once there are very many.
 */
const fewParts = 12;
const manyParts = 2_000;

export function copyMade(copying: Copying, original: object): object | undefined {
  const { count, index } = copying;
  if (index !== undefined) return index.get(original);
  if (count <= fewParts) {
    for (let made = copying.made; made !== undefined; made = made.next) {
      if (made.original === original) return made.copy;
    }
    return undefined;
  }
  const known = copying.collections?.get(original);
  if (known !== undefined) return known;
  for (let { above } = copying; above !== undefined; above = above.above) {
    if (above.original === original) return above.copy;
  }
  return undefined;
}

export function remember<T extends object>(copying: Copying, original: object, copy: T): T {
  const made: Made = { original, copy, next: copying.made, above: copying.above };
  copying.made = made;
  copying.above = made;
  copying.level++;
  copying.count++;
  if (copying.index !== undefined) copying.index.set(original, copy);
  else if (copying.count > manyParts) copying.index = indexOf(made);
  return copy;
}

/** A set or a map, which stands in the copy once, however often it stands in the value. */
export function rememberCollection<T extends object>(
  copying: Copying,
  original: object,
  copy: T,
): T {
  copying.collections ??= new Map();
  copying.collections.set(original, copy);
  return remember(copying, original, copy);
}

function indexOf(copies: Copies): Map<object, object> {
  const index = new Map<object, object>();
  for (let made = copies; made !== undefined; made = made.next) index.set(made.original, made.copy);
  return index;
}

/** The source of a copy; `undefined` if the value was kept by reference, or comes from elsewhere. */
export function originalOf(copies: Copies, copy: object): object | undefined {
  if (copies === undefined) return undefined;
  const known = originals.get(copies);
  if (known !== undefined) return known.get(copy);
  let asked = 0;
  for (let made: Copies = copies; made !== undefined; made = made.next) {
    if (made.copy === copy) return made.original;
    if (++asked < fewParts) continue;
    const index = new Map<object, object>();
    for (let each: Copies = copies; each !== undefined; each = each.next)
      index.set(each.copy, each.original);
    originals.set(copies, index);
    return index.get(copy);
  }
  return undefined;
}

/** The sources of many copies, computed on demand. */
const originals = new WeakMap<Made, ReadonlyMap<object, object>>();

/** A new mark each time: two of them must not count as the same value. */
export function tooLarge(of?: object): Gap {
  return makeGap('bound', of, 'too large to record');
}

// Taken once, so a method overridden by a subclass or replaced later is never run.
// biome-ignore lint/suspicious/noExplicitAny: the standard library types it so.
export const lookupGetter: (this: object, key: PropertyKey) => any = Reflect.get(
  Object.prototype,
  '__lookupGetter__',
);
const { getPrototypeOf, setPrototypeOf } = Object;

/** Gives the copy the original's prototype. */
export function alike<T extends object>(original: object, copy: T): T {
  const prototype = getPrototypeOf(original);
  return getPrototypeOf(copy) === prototype ? copy : setPrototypeOf(copy, prototype);
}
