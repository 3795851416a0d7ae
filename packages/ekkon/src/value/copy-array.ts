import { addOwn } from './copy-properties.ts';
import { alike, type Copying, copyAny, lookupGetter, remember, tooLarge } from './copying.ts';
import { noteExtras } from './extras.ts';
import { makeGap } from './gap.ts';

const { getPrototypeOf } = Object;

export function copyArray(copying: Copying, value: readonly unknown[]): unknown[] {
  const { length } = value;
  // Inside an instance, an array without objects costs little.
  if ((copying.isWithin ? length / 16 : length) > copying.nodes) return copyStart(copying, value);
  copying.nodes -= copying.isWithin ? Math.ceil(length / 16) : length;
  const accessors = accessorsIn(value);
  const copy = remember(
    copying,
    value as object as unknown[],
    alike(value, listOf(value, accessors)),
  );
  if (!holdsNumbers(copy)) copyItems(copying, copy, accessors);
  // To look for other properties costs more than the copy itself: in a long plain array there are none.
  const isAsked = length <= placesAsked || getPrototypeOf(value) !== Array.prototype;
  if (isAsked && hasNamed(value, copy)) {
    addOwn(copying, value, copy);
    noteExtras(copy, null);
  }
  return copy;
}

/** Whether an array has properties beside its items, under names or symbols, that a copy of its items lacks. */
function hasNamed(value: readonly unknown[], copy: readonly unknown[]): boolean {
  return (
    Object.keys(value).length !== Object.keys(copy).length ||
    Object.getOwnPropertySymbols(value).length > 0
  );
}

/**
 * Whether a list holds nothing but numbers, which is told without taking any of them out. Whole numbers are
 * looked for apart: code that has seen lists of several kinds takes each number out into an object of its own.
 */
function holdsNumbers(values: readonly unknown[]): boolean {
  const [first, middle, last] = [values[0], values[values.length >> 1], values[values.length - 1]];
  if (typeof first !== 'number' || typeof last !== 'number') return false;
  return Number.isInteger(first) && Number.isInteger(middle) && Number.isInteger(last)
    ? holdsWholeNumbers(values)
    : holdsFractions(values);
}

function holdsWholeNumbers(values: readonly unknown[]): boolean {
  for (let at = 0; at < values.length; at++) if (!Number.isInteger(values[at])) return false;
  return true;
}

function holdsFractions(values: readonly unknown[]): boolean {
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
 * The places of an array with an accessor, none of which runs. Checking for one costs as much as copying several
 * items, so only every so many places of long arrays are checked.
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
