import { intrinsics } from '../value/intrinsics.ts';
import { kindOf } from '../value/kind.ts';
import { dateTime } from '../value/slots.ts';

/** A place inside a value that holds data without parts: a leaf. */
export interface Leaf {
  readonly path: readonly PropertyKey[];
  readonly value: unknown;
}

/** How many leaves of one value are looked at. */
const leavesMost = 200;

/** How many places are searched, because a shared value occurs at many. */
const visitsMost = 20_000;

/** The leaves of plain data and arrays, in order: texts, numbers, booleans, bigints and dates. */
export function leavesOf(value: unknown): readonly Leaf[] {
  const found: Leaf[] = [];
  const above = new Set<object>();
  let visits = 0;
  function visit(held: unknown, path: readonly PropertyKey[]): void {
    if (found.length >= leavesMost || ++visits > visitsMost) return;
    if (isLeaf(held)) {
      found.push({ path, value: held });
      return;
    }
    if (typeof held !== 'object' || held === null || above.has(held) || !isOpen(held)) return;
    above.add(held);
    for (const key of Object.keys(held)) {
      const step = Array.isArray(held) ? Number(key) : key;
      visit((held as Readonly<Record<string, unknown>>)[key], [...path, step]);
    }
    above.delete(held);
  }
  visit(value, []);
  return found;
}

function isOpen(value: object): boolean {
  const kind = kindOf(value);
  return kind === 'plain' || kind === 'array' || kind === 'instance';
}

function isLeaf(value: unknown): boolean {
  switch (typeof value) {
    case 'string':
    case 'number':
    case 'boolean':
    case 'bigint':
      return true;
    default:
      return typeof value === 'object' && value !== null && kindOf(value) === 'date';
  }
}

/** A value of a leaf's type that is not in the record. */
export function freshValue(value: unknown, number: number): unknown {
  switch (typeof value) {
    case 'string':
      return `fresh ${number}`;
    case 'number':
      return Number.isFinite(value) ? -(1_000_003 + number) - Math.abs(value) : number;
    case 'boolean':
      return !value;
    case 'bigint':
      return -1_000_003n - BigInt(number) - (value < 0n ? -value : value);
    default:
      return new intrinsics.Date(dateTime.call(value as object) + 31_536_000_000 + number);
  }
}

/** A value with another one at a place; the path to it is copied, the rest is shared. */
export function withLeaf(
  value: unknown,
  [key, ...rest]: readonly PropertyKey[],
  leaf: unknown,
): unknown {
  if (key === undefined) return leaf;
  const held = value as Readonly<Record<PropertyKey, unknown>>;
  const inner = withLeaf(held[key], rest, leaf);
  if (Array.isArray(value)) return value.with(Number(key), inner);
  const copy = Object.create(
    Object.getPrototypeOf(value),
    Object.getOwnPropertyDescriptors(value as object),
  );
  Object.defineProperty(copy, key, {
    value: inner,
    writable: true,
    enumerable: true,
    configurable: true,
  });
  return copy;
}
