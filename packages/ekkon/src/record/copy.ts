import { copyBytes, copyState } from './copy-state.ts';
import { noteExtras } from './extras.ts';
import { type Gap, makeGap } from './gap.ts';
import { isPrimitive } from './is-primitive.ts';
import { type Kind, kindOf } from './kind.ts';
import { observedState } from './observed-state.ts';
import { printerOf, readState } from './platform/read.ts';
import { recognise } from './platform/table.ts';
import { type HeldReveal, makeRevealed, revealFor } from './revealed.ts';
import { entriesOf, itemsOf } from './slots.ts';
import { Snapshot } from './snapshot.ts';

/** What a copy is made with beside its value. */
interface CopyOptions {
  /** How to look into instances of some classes. Default: none. */
  readonly reveals?: readonly HeldReveal[];
}

/** How much one copy may take: objects and array elements, levels of nesting, bytes of buffers, and what is reached through instances of classes. Past it the place is marked with a gap. */
const budget = { nodes: 100_000, depth: 200, bytes: 16 * 1024 * 1024, withinInstances: 1_000 };

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
  /** Whether what is being copied is reached through an instance: then `nodes` is what is left for that. */
  isWithin: boolean;
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
    isWithin: false,
    bytes: budget.bytes,
  };
}

function copyAny(copying: Copying, value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  const known = copyMade(copying, value);
  if (known !== undefined) return known;
  const { above, level } = copying;
  if (level >= budget.depth) return makeGap('bound', value, 'nested too deep to record');
  if (--copying.nodes < 0) return tooLarge(value);
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
    return makeGap('unreadable', value, `${type.name}, whose reveal threw: ${said}`);
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

/** What many copies were made of, once somebody asks. */
const originals = new WeakMap<Made, ReadonlyMap<object, object>>();

function copyObject(copying: Copying, value: object, kind: Kind): unknown {
  switch (kind) {
    case 'plain':
      return copyProperties(copying, value);
    case 'instance':
      return copyInstance(copying, value);
    case 'array':
      return copyArray(copying, value as unknown[]);
    case 'platform':
      return copyPlatform(copying, value);
    case 'thing':
      return copyThing(value);
    case 'hidden':
    case 'kept':
      return value;
    case 'map': {
      const copy = remember(copying, value, alike(value, new Map()));
      for (const [key, held] of entriesOf(value)) {
        const isCut = --copying.nodes < 0;
        if (isCut) mapSet.call(copy, tooLarge(), tooLarge());
        else mapSet.call(copy, copyAny(copying, key), copyAny(copying, held));
        if (isCut) break;
      }
      return addOwn(copying, value, copy);
    }
    case 'set': {
      const copy = remember(copying, value, alike(value, new Set()));
      for (const held of itemsOf(value)) {
        const isCut = --copying.nodes < 0;
        setAdd.call(copy, isCut ? tooLarge() : copyAny(copying, held));
        if (isCut) break;
      }
      return addOwn(copying, value, copy);
    }
    case 'typed':
    case 'buffer':
    case 'view': {
      const held = copyBytes(value, kind, copying.bytes);
      if (held === undefined) return tooLarge(value);
      copying.bytes -= held.byteLength;
      const copy = remember(copying, value, alike(value, held));
      // A typed array lists each of its items among its own properties.
      return kind === 'typed' ? copy : addOwn(copying, value, copy);
    }
    default: {
      const copy = remember(copying, value, alike(value, copyState(value, kind)));
      return kind === 'error' ? addAll(copying, value, copy) : addOwn(copying, value, copy);
    }
  }
}

/** An instance of a class by all its own properties; what is reached through it has less room. */
function copyInstance(copying: Copying, value: object): unknown {
  if (copying.isWithin) return isInner(value) ? innerPart(value) : copyParts(copying, value);
  const { nodes } = copying;
  copying.isWithin = true;
  copying.nodes = Math.min(nodes, budget.withinInstances);
  const room = copying.nodes;
  try {
    return copyParts(copying, value);
  } finally {
    copying.nodes = nodes - (room - Math.max(0, copying.nodes));
    copying.isWithin = false;
  }
}

/**
 * Whether an instance that is reached through another is part of what makes that work, and not of what it
 * holds: a logger with methods of its own, what a framework keeps under symbols, a node of its tree.
 */
function isInner(value: object): boolean {
  if (getOwnPropertySymbols(value).length > 0) return observedState(value) === undefined;
  const keys = Object.keys(value);
  if (keys.includes('memoizedProps') && keys.includes('stateNode')) return true;
  return keys.some((key) => typeof getOwnPropertyDescriptor(value, key)?.value === 'function');
}

function innerPart(value: object): Gap {
  return makeGap('inner', value, 'inner part, not recorded');
}

function copyParts(copying: Copying, value: object): unknown {
  const { length } = Reflect.ownKeys(value);
  if (length === Object.keys(value).length) return copyProperties(copying, value);
  const observed = observedState(value);
  if (observed !== undefined) return copyObserved(copying, value, observed);
  copying.nodes -= length;
  if (copying.nodes < 0) return tooLarge(value);
  const copy = remember(copying, value, {});
  // The prototype comes last: one that has a setter would hear what is added to the copy.
  return alike(value, addAll(copying, value, copy));
}

/** An instance of a class of the platform by what it shows now. */
function copyPlatform(copying: Copying, value: object): unknown {
  const recognised = recognise(getPrototypeOf(value));
  if (recognised === undefined) return value;
  const { classes } = recognised;
  const { content, state, unseen } = readState(value, recognised);
  const told = { recognised, type: classes.at(-1)?.name, state, unseen, print: printerOf(classes) };
  const copy = remember(copying, value, new Snapshot(value, content, told));
  for (const key of Object.keys(content)) {
    const held = content[key];
    if (!isLeaf(held)) content[key] = copyAny(copying, held);
  }
  return copy;
}

/** A thing with an identity; of a stream with what it is for: a request's method, say. */
function copyThing(value: object): unknown {
  if (recognise(getPrototypeOf(value))?.isTelling !== true) return value;
  let content: Record<string, unknown> | undefined;
  for (const key of telling) {
    if (!Object.hasOwn(value, key) || lookupGetter.call(value, key) !== undefined) continue;
    const held = (value as Readonly<Record<string, unknown>>)[key];
    if (!isPrimitive(held)) continue;
    content ??= {};
    content[key] = held;
  }
  return content === undefined ? value : new Snapshot(value, content, noneTold);
}

const noneTold = {};

/** The properties of a stream that say what it is for. */
const telling: readonly string[] = [
  'method',
  'url',
  'originalUrl',
  'path',
  'host',
  'statusCode',
  'statusMessage',
  'connecting',
  'fd',
];

/** A mark of its own each time: two of them must not be taken for the same value. */
function tooLarge(of?: object): Gap {
  return makeGap('bound', of, 'too large to record');
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
  if (copying.nodes < 0) return tooLarge(value);
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
  const observed = observedState(value);
  if (observed !== undefined) return copyObserved(copying, value, observed);
  return addOwn(copying, value, remember(copying, value, alike(value, {})));
}

/** An object by what stands for it, which holds the same in the open. */
function copyObserved(copying: Copying, value: object, observed: object): object {
  const copy = copyObject(copying, observed, kindOf(observed)) as object;
  return remember(copying, value, copy);
}

function copyArray(copying: Copying, value: readonly unknown[]): unknown[] {
  const { length } = value;
  // Reached through an instance, what holds no objects costs little.
  if ((copying.isWithin ? length / 16 : length) > copying.nodes) return copyStart(copying, value);
  copying.nodes -= copying.isWithin ? Math.ceil(length / 16) : length;
  const accessors = accessorsIn(value);
  const copy = remember(
    copying,
    value as object as unknown[],
    alike(value, listOf(value, accessors)),
  );
  if (!(beginsAsNumbers(copy) && holdsNumbers(copy))) copyItems(copying, copy, accessors);
  // To look for other properties costs more than the copy itself: in a long plain array there are none.
  const isAsked = length <= placesAsked || getPrototypeOf(value) !== Array.prototype;
  if (isAsked && Object.keys(value).length !== Object.keys(copy).length) {
    addOwn(copying, value, copy);
    noteExtras(copy);
  }
  return copy;
}

/**
 * Whether a list may hold nothing but numbers: only then it is worth to look at each. A function that has seen
 * lists of all kinds is slow with every one of them.
 */
function beginsAsNumbers(values: readonly unknown[]): boolean {
  return typeof values[0] === 'number' && typeof values[values.length - 1] === 'number';
}

/** Whether a list holds nothing but numbers, which is told without taking any of them out. */
function holdsNumbers(values: readonly unknown[]): boolean {
  for (let at = 0; at < values.length; at++) if (typeof values[at] !== 'number') return false;
  return true;
}

/** Copies the objects in a list that was copied, which are still those of the original. */
function copyItems(
  copying: Copying,
  copy: unknown[],
  accessors: ReadonlySet<number> | undefined,
): void {
  for (let at = 0; at < copy.length; at++) {
    const held = copy[at];
    if (typeof held === 'object' && held !== null && accessors?.has(at) !== true)
      copy[at] = copyAny(copying, held);
  }
}

/** As many items of an array as there is room for. */
function copyStart(copying: Copying, value: readonly unknown[]): unknown[] {
  const copy: unknown[] = remember(copying, value as object as unknown[], alike(value, []));
  const { length } = value;
  const room = Math.max(0, copying.nodes);
  copying.nodes = -1;
  for (let at = 0; at < room; at++) {
    const accessor = lookupGetter.call(value, at);
    const held = accessor === undefined ? value[at] : makeGap('accessor', undefined, 'accessor');
    arrayPush.call(copy, typeof held === 'object' && held !== null ? tooLarge(held) : held);
  }
  arrayPush.call(copy, makeGap('bound', undefined, `${length - room} more, too large to record`));
  return copy;
}

/** A list as it is, with gaps for accessors; holes stay holes. */
function listOf(value: readonly unknown[], accessors: ReadonlySet<number> | undefined): unknown[] {
  if (accessors === undefined && getPrototypeOf(value) === Array.prototype)
    return arraySlice.call(value);
  const copy: unknown[] = [];
  const { length } = value;
  for (let at = 0; at < length; at++) {
    if (accessors?.has(at)) copy[at] = makeGap('accessor', undefined, 'accessor');
    else if (Object.hasOwn(value, at)) copy[at] = value[at];
  }
  copy.length = length;
  return copy;
}

/**
 * The places of an array that an accessor stands at, none of which is run. To ask for one costs as much as
 * to copy an item several times, so that of long arrays only every so many places are asked.
 */
function accessorsIn(value: readonly unknown[]): ReadonlySet<number> | undefined {
  let found: Set<number> | undefined;
  const { length } = value;
  const step = Math.max(1, Math.floor(length / placesAsked));
  for (let at = 0; at < length; at += found === undefined ? step : 1) {
    if (lookupGetter.call(value, at) === undefined) continue;
    // Where there is one there may be more, and before it as well.
    if (found === undefined && step > 1) at = -1;
    found ??= new Set();
    if (at >= 0) found.add(at);
  }
  return found;
}

const placesAsked = 256;

const { push: arrayPush, slice: arraySlice } = Array.prototype;

/** Adds the own properties that can be enumerated, and that a copy made in another way does not have yet. */
function addOwn<T extends object>(copying: Copying, value: object, copy: T): T {
  return addWanted(copying, value, copy, false);
}

/** Adds all own properties, also those that cannot be enumerated; of an error all but where it was thrown. */
function addAll<T extends object>(copying: Copying, value: object, copy: T): T {
  return addWanted(copying, value, copy, true);
}

function addWanted<T extends object>(
  copying: Copying,
  value: object,
  copy: T,
  isUnlistedWanted: boolean,
): T {
  for (const key of Reflect.ownKeys(value)) {
    if (Object.hasOwn(copy, key)) continue;
    const descriptor = getOwnPropertyDescriptor(value, key);
    if (descriptor === undefined || (!descriptor.enumerable && !isUnlistedWanted)) continue;
    const held =
      'value' in descriptor
        ? copyAny(copying, descriptor.value)
        : makeGap('accessor', undefined, 'accessor');
    if (typeof key === 'symbol' || !descriptor.enumerable) noteExtras(copy);
    if (descriptor.enumerable && key !== '__proto__' && getPrototypeOf(copy) === Object.prototype) {
      (copy as Record<PropertyKey, unknown>)[key] = held;
      continue;
    }
    Object.defineProperty(copy, key, {
      value: held,
      writable: true,
      configurable: true,
      enumerable: descriptor.enumerable ?? false,
    });
  }
  return copy;
}

/** Objects that were claimed, by their copies. */
const claimedOriginals = new WeakMap<object, object>();

/** Copies values that are claimed, as `copyList` does: what is recorded may be one of these very objects. */
export function copyClaimedList(
  values: readonly unknown[],
  options: CopyOptions = {},
): { readonly values: readonly unknown[]; readonly copies: Copies } {
  const list = copyList(values, options);
  for (let made = list.copies; made !== undefined; made = made.next)
    claimedOriginals.set(made.copy, made.original);
  return list;
}

/** Copies one value that is claimed. */
export function copyClaimed<T>(value: T): T {
  return isLeaf(value) ? value : (copyClaimedList([value]).values[0] as T);
}

/** The object that was claimed, given what stands for it in a copy. */
export function claimedOriginal(copy: object): object {
  return claimedOriginals.get(copy) ?? copy;
}
