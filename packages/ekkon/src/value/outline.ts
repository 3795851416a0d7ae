import { hasExtras } from './extras.ts';
import { intrinsics } from './intrinsics.ts';
import { isPrimitive } from './is-primitive.ts';
import { isOwn } from './prints-as.ts';

const { getPrototypeOf, keys } = Object;

/**
 * The keys of a plain object, and the primitives below them, as one text; `undefined` for anything else. A plain
 * object differs from another one that has another outline, unless it is that very object.
 *
 * Example: `{ at: {}, id: 4 }` has `at:o,id:4,`.
 */
export function outlineOf(value: unknown): string | undefined {
  if (typeof value !== 'object' || value === null) return undefined;
  if (getPrototypeOf(value) !== Object.prototype || hasExtras(value)) return undefined;
  const names = keys(value);
  if (names.length > keysMost) return undefined;
  let outline = '';
  for (const name of names.sort()) {
    const held: unknown = Reflect.get(value, name);
    if (isOwn(held)) return undefined;
    outline += `${quoted(name)}:${isPrimitive(held) ? primitive(held) : 'o'},`;
  }
  return outline;
}

const keysMost = 100;

function quoted(name: string): string {
  return /^\w+$/.test(name) ? name : intrinsics.stringify(name);
}

/** Equal primitives have one text, and others another; of symbols nothing is told. */
function primitive(value: unknown): string {
  switch (typeof value) {
    case 'string':
      return intrinsics.stringify(value);
    case 'symbol':
      return 's';
    case 'bigint':
      return `${value}n`;
    default:
      // Both zeros are equal.
      return String(value);
  }
}

/**
 * A text that equal values share as far as they are plain data: an outline of nested values as well. A different text
 * proves nothing.
 */
export function likenessOf(value: unknown): string {
  let left = partsMost;
  const likeness = (part: unknown): string => {
    if (typeof part !== 'object' || part === null) return primitive(part);
    if (--left < 0) return '…';
    if (Array.isArray(part)) return `[${part.slice(0, left).map(likeness).join()}]`;
    if (getPrototypeOf(part) !== Object.prototype) return 'o';
    return `{${keys(part)
      .sort()
      .map((name) => `${name}:${likeness(Reflect.get(part, name))}`)
      .join()}}`;
  };
  return likeness(value);
}

const partsMost = 40;
