import { inQuotes } from './escape.ts';
import { isGap } from './gap.ts';
import { isIdentifier } from './names.ts';
import type { Item, Piece } from './piece.ts';
import { printsAs } from './prints-as.ts';

/** A print under way, as each kind of value prints its parts through it. */
export interface Printing {
  /** Items of a collection, and properties of an object, before the rest is only counted. */
  readonly items: number;
  /** Characters of a text before the rest is only counted. */
  readonly text: number;
  /** Prints a part. */
  piece(value: unknown): Piece;
  /** The copy that recording makes of a value. */
  copyOf(value: object): unknown;
}

/** A text in double quotes, cut after `length` characters with a count of all. */
export function quoted(text: string, length: number): string {
  if (text.length <= length) return inQuotes(text);
  return `${inQuotes(`${text.slice(0, length)}…`)} (${text.length} characters)`;
}

export function printSymbol(symbol: symbol): string {
  const shared = Symbol.keyFor(symbol);
  if (shared !== undefined) return `Symbol.for(${inQuotes(shared)})`;
  return symbol.description === undefined ? 'Symbol()' : `Symbol(${inQuotes(symbol.description)})`;
}

/** The first items of a collection, and how many more there are. */
export function printItems<T>(
  { items }: Printing,
  held: readonly T[],
  print: (item: T) => Piece,
  length = held.length,
): readonly Item[] {
  const shown = held.slice(0, items);
  return withRest(
    shown.map((item) => ({ piece: print(item) })),
    length - shown.length,
  );
}

/** An object by some of its properties, behind the name of its class if it has one. */
export function printProperties(
  printing: Printing,
  value: object,
  name: string | undefined,
  keys: readonly PropertyKey[],
): Piece {
  const shown = keys.slice(0, printing.items);
  const items = shown.map((key) => ({
    label: `${printKey(key)}: `,
    piece: printHeld(printing, value, key),
  }));
  const open = name === undefined ? '{' : `${name} {`;
  return { open, items: withRest(items, keys.length - shown.length), close: '}', spaced: true };
}

/** The value below a key; runs no accessor. */
export function printHeld(printing: Printing, value: object, key: PropertyKey): Piece {
  const descriptor = Object.getOwnPropertyDescriptor(value, key);
  if (descriptor === undefined) return '‹could not be read›';
  if (!('value' in descriptor)) return '‹accessor›';
  return isGap(descriptor.value) ? descriptor.value[printsAs] : printing.piece(descriptor.value);
}

function withRest(items: readonly Item[], rest: number): readonly Item[] {
  return rest > 0 ? [...items, { piece: `… ${rest} more` }] : items;
}

function printKey(key: PropertyKey): string {
  if (typeof key === 'symbol') return `[${printSymbol(key)}]`;
  const name = String(key);
  // Pasted as a name, it would be the prototype.
  if (name === '__proto__') return '["__proto__"]';
  return isIdentifier(name) ? name : inQuotes(name);
}
