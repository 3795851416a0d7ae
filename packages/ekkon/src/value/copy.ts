import { type Copies, type Copying, type CopyOptions, copyAny, startCopying } from './copying.ts';
import type { Kind } from './kind.ts';
import { kinds } from './kinds/table.ts';

export type { Copies } from './copying.ts';
export { originalOf } from './copying.ts';

/** Whether a value is its own copy: a primitive or a function. */
export function isItsOwnCopy(value: unknown): boolean {
  return typeof value !== 'object' || value === null;
}

/** Whether a list can be kept as it is, with nothing in it that could change. */
export function areTheirOwnCopies(values: readonly unknown[]): boolean {
  for (let at = 0; at < values.length; at++) {
    const value = values[at];
    if (typeof value === 'object' && value !== null) return false;
  }
  return true;
}

/**
 * Copies a value as it is at this moment.
 *
 * Plain objects, arrays, platform types and class instances are copied by own properties, with their prototype;
 * instances that hide their state are kept by reference. Runs no getter, `toJSON` or iterator. Never throws: an
 * unreadable place is marked with a gap.
 */
export function copyOf<T>(value: T, options: CopyOptions = {}): T {
  return isItsOwnCopy(value) ? value : (copyAny(startCopying(copyObject, options), value) as T);
}

/** Copies a list of arguments. Returns the source of each copy, and whether another copy of Ekkon made any value. */
export function copyList(
  values: readonly unknown[],
  options: CopyOptions = {},
): {
  readonly values: readonly unknown[];
  readonly copies: Copies;
  readonly ofOther: object | undefined;
} {
  const copying = startCopying(copyObject, options);
  const copied: unknown[] = [];
  for (let at = 0; at < values.length; at++) copied.push(copyAny(copying, values[at]));
  return { values: copied, copies: copying.made, ofOther: copying.ofOther };
}

function copyObject(copying: Copying, value: object, kind: Kind): unknown {
  return kinds[kind].copy(copying, value);
}
