import { copyArray } from './copy-array.ts';
import { copyInstance, copyPlatform, copyThing } from './copy-instance.ts';
import { addAll, addOwn, copyProperties } from './copy-properties.ts';
import { copyBytes, copyState } from './copy-state.ts';
import {
  alike,
  budget,
  type Copies,
  type Copying,
  type CopyOptions,
  copyMade,
  remember,
  startCopying,
  tooLarge,
} from './copying.ts';
import { makeGap } from './gap.ts';
import { type Kind, kindOf } from './kind.ts';
import { isOfOtherCopy } from './prints-as.ts';
import { type HeldReveal, makeRevealed, revealFor } from './revealed.ts';
import { entriesOf, itemsOf } from './slots.ts';

export type { Copies } from './copying.ts';
export { originalOf } from './copying.ts';

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
 */
export function copyOf<T>(value: T, options: CopyOptions = {}): T {
  return isLeaf(value) ? value : (copyAny(startCopying(options), value) as T);
}

/** Copies a list of arguments, and says what was made of what, and whether another copy of Ekkon made any of it. */
export function copyList(
  values: readonly unknown[],
  options: CopyOptions = {},
): {
  readonly values: readonly unknown[];
  readonly copies: Copies;
  readonly ofOther: object | undefined;
} {
  const copying = startCopying(options);
  const copied: unknown[] = [];
  for (let at = 0; at < values.length; at++) copied.push(copyAny(copying, values[at]));
  return { values: copied, copies: copying.made, ofOther: copying.ofOther };
}

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

export function copyObject(copying: Copying, value: object, kind: Kind): unknown {
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
    case 'kept':
      if (isOfOtherCopy(value)) copying.ofOther = value;
      return value;
    case 'hidden':
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

// Taken once, so that a method overridden by a subclass or replaced later is never run.
const mapSet = Map.prototype.set;
const setAdd = Set.prototype.add;
