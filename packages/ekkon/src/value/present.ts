import { kindOf } from './kind.ts';
import { kinds } from './kinds/table.ts';
import type { OriginalOf, Showing } from './showing.ts';

/**
 * A recorded value for foreign code: a copy of the copy, so nothing that happens to it happens to the record. An
 * object that could not be copied is passed itself; reading a part that could not be recorded throws.
 *
 * @param ofCut the treatment of a list that was too large to record as a whole
 * @throws TypeError if there is such a list, and it is to be refused
 */
export function present(
  value: unknown,
  originalOf: OriginalOf,
  ofCut: 'keep' | 'refuse' = 'keep',
): unknown {
  const showing: Showing = { originalOf, ofCut, made: new Map(), show };
  function show(part: unknown): unknown {
    if (typeof part !== 'object' || part === null) return part;
    return showing.made.get(part) ?? kinds[kindOf(part)].show(showing, part);
  }
  return show(value);
}

/** Whether nothing can be written to a value: one of plain data, frozen when it is first asked for. */
export function isFixed(value: unknown): boolean {
  if (typeof value !== 'object' || value === null || fixed.has(value)) return true;
  const parts = plainParts(value, new Set());
  if (parts === undefined) return false;
  for (const part of parts) fixed.add(Object.freeze(part));
  return true;
}

const fixed = new WeakSet<object>();

/** The objects and arrays that plain data is made of; `undefined` if it holds anything else. */
function plainParts(value: object, found: Set<object>): ReadonlySet<object> | undefined {
  if (found.has(value)) return found;
  const kind = kindOf(value);
  if (kind !== 'plain' && kind !== 'array') return undefined;
  found.add(value);
  for (const key of Reflect.ownKeys(value)) {
    const held: unknown = Reflect.get(value, key);
    const isPart = typeof held === 'object' && held !== null;
    if (isPart && !fixed.has(held) && plainParts(held, found) === undefined) return undefined;
  }
  return found;
}
