import { tied } from '../record/tie.ts';
import { className } from '../value/class-name.ts';
import { copyOf } from '../value/copy.ts';
import { inQuotes } from '../value/escape.ts';
import { isGap } from '../value/gap.ts';
import { hidesState } from '../value/hidden-state.ts';
import { kindOf } from '../value/kind.ts';
import { isOfOtherCopy, printsAs } from '../value/prints-as.ts';
import { descriptorOf } from '../value/prototype-chain.ts';
import { isRevealed } from '../value/revealed.ts';
import {
  bytesOf,
  dateTime,
  entriesOf,
  flagsOf,
  itemsOf,
  regexpSource,
  typedName,
  unboxed,
} from '../value/slots.ts';
import { isSnapshot, type Snapshot } from '../value/snapshot.ts';
import { fold, type Piece } from './fold.ts';

export interface PrintOptions {
  /** Columns that a line may take. Default 80. */
  readonly width?: number;
  /** Columns that every line but the first is set in. Default 0. */
  readonly indent?: number;
  /** Items of a collection, and properties of an object, before the rest is only counted. Default 24. */
  readonly items?: number;
  /** Characters of a text before the rest is only counted. Default 240. */
  readonly text?: number;
}

/**
 * Prints any value as code that could be pasted back, as far as there is such code: on one line where
 * it fits, else folded with a property a line. Cycles, depth, long texts and large collections are cut
 * and say so. Runs none of the value's code; what cannot be read prints as `‹could not be read›`.
 *
 * Example: `printValue({ seconds: 30, filter: 'red' })` gives `{ seconds: 30, filter: "red" }`.
 */
export function printValue(value: unknown, options: PrintOptions = {}): string {
  const { width = 80, indent = 0, items = 24, text = 240 } = options;
  const printing: Printing = { items, text, left: nodesPrinted, levels: levelsPrinted, above: [] };
  return fold(piece(printing, value), width, indent);
}

/** The value on one line, however long that gets. */
export function printLine(
  value: unknown,
  options: Pick<PrintOptions, 'items' | 'text'> = {},
): string {
  return printValue(value, { ...options, width: Number.POSITIVE_INFINITY });
}

/** Whether what is claimed is being printed in full: only while `inFull` runs. */
let isInFull = false;

/** What a function prints, with nothing cut of what is claimed: so that it can be read back. */
export function inFull<T>(print: () => T): T {
  const before = isInFull;
  isInFull = true;
  try {
    return print();
  } finally {
    isInFull = before;
  }
}

/**
 * A value that is claimed, on one line: cut for a report, whole if the claim is printed in full. What is shared in
 * it prints as often as it stands there, so that a few objects can be without end: past a bound it is cut even so.
 */
export function printClaimed(value: unknown): string {
  if (!isInFull) return printLine(value, { items: 12 });
  const all = Number.POSITIVE_INFINITY;
  const bounds = { items: all, text: all, left: nodesInFull, levels: all, above: [] };
  return fold(piece(bounds, value), all, 0);
}

/** The value on one line of at most `length` columns, cut if it is longer. */
export function shortValue(value: unknown, length = 60): string {
  // Each object takes a column at least, so that no more of them can be seen.
  const bounds = { items: 8, text: Math.max(20, length), left: length, levels: levelsPrinted };
  const line = fold(piece({ ...bounds, above: [] }, value), Number.POSITIVE_INFINITY, 0);
  return line.length <= length ? line : `${line.slice(0, Math.max(1, length - 1))}…`;
}

/** How many values one print shows in all. */
const nodesPrinted = 2_000;
const levelsPrinted = 12;
/** The same of what prints in full. */
const nodesInFull = 20_000;

interface Printing {
  readonly items: number;
  readonly text: number;
  left: number;
  readonly levels: number;
  /** The objects being printed, outermost first. */
  readonly above: object[];
}

function piece(printing: Printing, value: unknown): Piece {
  if (typeof value !== 'object' || value === null) return printLeaf(printing, value);
  const level = printing.above.indexOf(value);
  if (level >= 0) return `‹cycle to ${'^'.repeat(printing.above.length - level)}›`;
  if (printing.above.length >= printing.levels || --printing.left < 0) return '…';
  printing.above.push(value);
  try {
    return printObject(printing, value);
  } catch {
    return '‹could not be read›';
  } finally {
    printing.above.pop();
  }
}

function printLeaf(printing: Printing, value: unknown): string {
  switch (typeof value) {
    case 'string':
      return quoted(value, printing.text);
    case 'bigint':
      return `${value}n`;
    case 'symbol':
      return printSymbol(value);
    case 'function':
      return printFunction(value as (...args: never[]) => unknown);
    default:
      return Object.is(value, -0) ? '-0' : String(value);
  }
}

/** A text in double quotes, cut after `length` characters with a count of all. */
export function quoted(text: string, length: number): string {
  if (text.length <= length) return inQuotes(text);
  return `${inQuotes(`${text.slice(0, length)}…`)} (${text.length} characters)`;
}

function printSymbol(symbol: symbol): string {
  const shared = Symbol.keyFor(symbol);
  if (shared !== undefined) return `Symbol.for(${inQuotes(shared)})`;
  return symbol.description === undefined ? 'Symbol()' : `Symbol(${inQuotes(symbol.description)})`;
}

/** How a value prints that another copy of Ekkon made, given how that printed it. */
function ofOtherCopy(shown: string | undefined): string {
  return `‹${shown}, of another copy of Ekkon›`;
}

function printFunction(value: object): string {
  try {
    const shown = Object.getOwnPropertyDescriptor(value, printsAs)?.value;
    if (typeof shown === 'string') return tied(value) === undefined ? ofOtherCopy(shown) : shown;
    const name = Object.getOwnPropertyDescriptor(value, 'name')?.value;
    const word = /^class\b/.test(Function.prototype.toString.call(value)) ? 'class' : 'function';
    return typeof name === 'string' && name !== '' ? `‹${word} ${name}›` : `‹${word}›`;
  } catch {
    return '‹function›';
  }
}

function printObject(printing: Printing, value: object): Piece {
  const kind = kindOf(value);
  switch (kind) {
    case 'plain':
      return properties(printing, value, undefined, keysOf(value));
    case 'instance':
      if (Reflect.ownKeys(value).length === 0 && hidesState(value))
        return `‹${className(value) ?? 'object'}, state hidden›`;
      return properties(printing, value, className(value), Reflect.ownKeys(value));
    case 'hidden':
      return `‹${className(value) ?? 'object'}, state hidden›`;
    case 'kept':
      return printKept(printing, value);
    case 'array':
      return printArray(printing, value as readonly unknown[]);
    case 'map': {
      const entries = entriesOf(value);
      const pairs = listed(printing, entries, ([key, held]) => ({
        open: '[',
        items: [{ piece: piece(printing, key) }, { piece: piece(printing, held) }],
        close: ']',
      }));
      return { open: `new ${className(value) ?? 'Map'}([`, items: pairs, close: '])' };
    }
    case 'set': {
      const held = itemsOf(value);
      const items = listed(printing, held, (item) => piece(printing, item));
      return { open: `new ${className(value) ?? 'Set'}([`, items, close: '])' };
    }
    case 'error':
      return printError(printing, value);
    case 'typed': {
      const held = Array.from(
        { length: Math.min((value as Uint8Array).length, printing.items + 1) },
        (_, at) => (value as Uint8Array)[at],
      );
      return bytesListed(
        printing,
        `new ${className(value) ?? typedName.call(value)}`,
        held,
        (value as Uint8Array).length,
      );
    }
    case 'buffer':
    case 'view': {
      const bytes = bytesOf(value);
      const inner = bytesListed(
        printing,
        'new Uint8Array',
        [...bytes.subarray(0, printing.items + 1)],
        bytes.length,
      );
      const items = [
        {
          piece:
            kind === 'view' ? { open: '', items: [{ piece: inner }], close: '.buffer' } : inner,
        },
      ];
      return kind === 'view'
        ? { open: 'new DataView(', items, close: ')' }
        : { open: '', items, close: '.buffer' };
    }
    case 'date': {
      const time = dateTime.call(value);
      return Number.isNaN(time) ? 'new Date(NaN)' : `new Date("${new Date(time).toISOString()}")`;
    }
    case 'regexp':
      return `/${regexpSource.call(value)}/${flagsOf(value)}`;
    case 'boxed':
      return `Object(${printLeaf(printing, unboxed(value))})`;
    case 'platform': {
      const seen = copyOf(value);
      return isSnapshot(seen) ? printSnapshot(printing, seen) : `‹${className(value) ?? 'object'}›`;
    }
    case 'thing':
      return printThing(value);
  }
}

function printKept(printing: Printing, value: object): Piece {
  if (isRevealed(value)) {
    const content = piece(printing, value.content);
    const fields = typeof content === 'object' && content.open === '{';
    if (fields) return { ...content, open: `${value.revealed.name} {` };
    return { open: `${value.revealed.name}(`, items: [{ piece: content }], close: ')' };
  }
  if (isSnapshot(value)) return printSnapshot(printing, value);
  const shown = (value as { readonly [printsAs]?: string })[printsAs];
  if (isOfOtherCopy(value)) return ofOtherCopy(shown);
  return shown ?? `‹${className(value) ?? 'object'}›`;
}

function printSnapshot(printing: Printing, { of, content, print, state, type }: Snapshot): Piece {
  if (type === undefined) return printThing(of);
  const quote = (text: unknown) => quoted(String(text), printing.text);
  if (print !== undefined) return print(content, quote, state);
  // What says no more than that nothing was said is left out.
  const told = keysOf(content).filter((key) => !isUnsaid(content[key]));
  return properties(printing, content, className(of) ?? type, told);
}

function isUnsaid(value: unknown): boolean {
  return value === null || value === undefined || value === false || value === '' || value === 0;
}

/** What has an identity prints short: an element as its tag, anything else by its class. */
function printThing(value: object): string {
  const read = (key: string) => {
    const found = descriptorOf(value, key);
    return found?.get === undefined ? found?.value : Reflect.apply(found.get, value, []);
  };
  try {
    const [name, id, kind] = [read('localName'), read('id'), read('className')];
    if (typeof name === 'string' && read('nodeType') === 1) {
      const marks = [
        typeof id === 'string' && id !== '' ? ` id=${inQuotes(id)}` : '',
        typeof kind === 'string' && kind !== '' ? ` class=${inQuotes(kind)}` : '',
      ];
      return `<${name}${marks.join('')}>`;
    }
  } catch {
    // An element whose document is gone, say.
  }
  return `‹${className(value) ?? 'object'}›`;
}

function printArray(printing: Printing, value: readonly unknown[]): Piece {
  const places = Array.from({ length: Math.min(value.length, printing.items) }, (_, at) => at);
  const items = places.map((at) => ({
    piece: Object.hasOwn(value, at) ? heldAt(printing, value, at) : '‹hole›',
  }));
  return { open: '[', items: withRest(items, value.length - places.length), close: ']' };
}

function bytesListed(
  printing: Printing,
  open: string,
  held: readonly unknown[],
  length: number,
): Piece {
  const shown = held.slice(0, printing.items);
  const items = shown.map((item) => ({ piece: printLeaf(printing, item) }));
  return { open: `${open}([`, items: withRest(items, length - shown.length), close: '])' };
}

function listed<T>(printing: Printing, held: readonly T[], print: (item: T) => Piece): Item[] {
  const shown = held.slice(0, printing.items);
  return withRest(
    shown.map((item) => ({ piece: print(item) })),
    held.length - shown.length,
  );
}

type Item = { readonly label?: string; readonly piece: Piece };

function withRest(items: readonly Item[], rest: number): Item[] {
  return rest > 0 ? [...items, { piece: `… ${rest} more` }] : [...items];
}

function printError(printing: Printing, value: object): Piece {
  const name = className(value) ?? 'Error';
  const message = Object.getOwnPropertyDescriptor(value, 'message')?.value;
  const said = typeof message === 'string' ? quoted(message, printing.text) : '';
  const more = Reflect.ownKeys(value).filter((key) => key !== 'message' && key !== 'stack');
  if (more.length === 0) return `new ${name}(${said})`;
  const rest = properties(printing, value, undefined, more);
  return { open: `new ${name}(`, items: [{ piece: said }, { piece: rest }], close: ')' };
}

function properties(
  printing: Printing,
  value: object,
  name: string | undefined,
  keys: readonly PropertyKey[],
): Piece {
  const shown = keys.slice(0, printing.items);
  const items = shown.map((key) => ({
    label: `${printKey(key)}: `,
    piece: heldAt(printing, value, key),
  }));
  const open = name === undefined ? '{' : `${name} {`;
  return { open, items: withRest(items, keys.length - shown.length), close: '}', spaced: true };
}

function heldAt(printing: Printing, value: object, key: PropertyKey): Piece {
  const descriptor = Object.getOwnPropertyDescriptor(value, key);
  if (descriptor === undefined) return '‹could not be read›';
  if (!('value' in descriptor)) return '‹accessor›';
  return isGap(descriptor.value) ? descriptor.value[printsAs] : piece(printing, descriptor.value);
}

function keysOf(value: object): readonly PropertyKey[] {
  const symbols = Object.getOwnPropertySymbols(value).filter((symbol) =>
    Object.prototype.propertyIsEnumerable.call(value, symbol),
  );
  return [...Object.keys(value), ...symbols];
}

const identifier = /^[\p{ID_Start}$_][\p{ID_Continue}$]*$/u;

function printKey(key: PropertyKey): string {
  if (typeof key === 'symbol') return `[${printSymbol(key)}]`;
  const name = String(key);
  // Pasted as a name, it would be the prototype.
  if (name === '__proto__') return '["__proto__"]';
  return identifier.test(name) ? name : inQuotes(name);
}

/**
 * A path as code would write it: `[0].filter`, `.at["right ascension"]`.
 */
export function printPath(path: readonly PropertyKey[]): string {
  if (path.length <= keysPrinted) return path.map(printStep).join('');
  const half = keysPrinted / 2;
  const [start, end] = [path.slice(0, half), path.slice(-half)].map((keys) =>
    keys.map(printStep).join(''),
  );
  return `${start} … ${path.length - keysPrinted} deeper … ${end}`;
}

/** Keys of a path before its middle is only counted. */
const keysPrinted = 12;

function printStep(key: PropertyKey): string {
  if (typeof key === 'number' || /^(0|[1-9]\d*)$/.test(String(key))) return `[${String(key)}]`;
  if (typeof key === 'symbol') return `[${printSymbol(key)}]`;
  return identifier.test(key) ? `.${key}` : `[${inQuotes(key)}]`;
}
