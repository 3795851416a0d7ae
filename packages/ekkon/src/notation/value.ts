import { copyOf } from '../value/copy.ts';
import { escapeControls, inQuotes } from '../value/escape.ts';
import { kindOf } from '../value/kind.ts';
import { kinds } from '../value/kinds/table.ts';
import { isIdentifier } from '../value/names.ts';
import type { Piece } from '../value/piece.ts';
import { type Printing, printSymbol, quoted } from '../value/printing.ts';
import { fold } from './fold.ts';

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
 * Prints any value as code that could be pasted back, as far as there is such code: on one line if it fits, otherwise
 * folded with a property per line. Cycles, depth, long texts and large collections are cut and say so. No code of the
 * value runs; an unreadable value prints as `‹could not be read›`.
 *
 * Example: `printValue({ seconds: 30, filter: 'red' })` returns `{ seconds: 30, filter: "red" }`.
 */
export function printValue(value: unknown, options: PrintOptions = {}): string {
  const { width = 80, indent = 0, items = 24, text = 240 } = options;
  const printer = new Printer({ items, text, left: nodesPrinted, levels: levelsPrinted });
  return fold(printer.piece(value), width, indent);
}

/** The value on one line, however long that gets. */
export function printLine(
  value: unknown,
  options: Pick<PrintOptions, 'items' | 'text'> = {},
): string {
  return printValue(value, { ...options, width: Number.POSITIVE_INFINITY });
}

/** Whether an expected value is being printed in full: only while `inFull` runs. */
let isInFull = false;

/** The printed form of a function, with no expected value cut, so it can be read back. */
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
 * An expected value on one line: cut for a report, whole if the claim is printed in full. Shared objects print as
 * often as they occur, so a few objects can print without end: past a limit they are cut even then.
 */
export function printClaimed(value: unknown): string {
  if (!isInFull) return printLine(value, { items: 12 });
  const all = Number.POSITIVE_INFINITY;
  const printer = new Printer({ items: all, text: all, left: nodesInFull, levels: all });
  return fold(printer.piece(value), all, 0);
}

/** The value on one line of at most `length` columns, cut if it is longer. */
export function shortValue(value: unknown, length = 60): string {
  // Each object takes at least one column, so no more of them can be visible.
  const bounds = { items: 8, text: Math.max(20, length), left: length, levels: levelsPrinted };
  const line = fold(new Printer(bounds).piece(value), Number.POSITIVE_INFINITY, 0);
  return line.length <= length ? line : `${line.slice(0, Math.max(1, length - 1))}…`;
}

/** How many values one print shows in all. */
const nodesPrinted = 2_000;
const levelsPrinted = 12;
/** The same limit for values printed in full. */
const nodesInFull = 20_000;

class Printer implements Printing {
  readonly items: number;
  readonly text: number;
  private left: number;
  private readonly levels: number;
  /** The objects being printed, outermost first. */
  private readonly above: object[] = [];

  constructor({ items, text, left, levels }: Bounds) {
    this.items = items;
    this.text = text;
    this.left = left;
    this.levels = levels;
  }

  piece(value: unknown): Piece {
    if (typeof value === 'function') return safePiece(kinds.function.print(this, value));
    if (typeof value !== 'object' || value === null) return printPrimitive(value, this.text);
    const { above } = this;
    if (--this.left < 0) return '…';
    const level = above.indexOf(value);
    if (level >= 0) return `‹cycle to ${'^'.repeat(above.length - level)}›`;
    if (above.length >= this.levels) return '…';
    above.push(value);
    try {
      return safePiece(kinds[kindOf(value)].print(this, value));
    } catch {
      return '‹could not be read›';
    } finally {
      above.pop();
    }
  }

  copyOf(value: object): unknown {
    return copyOf(value);
  }
}

/** Names of classes and functions may hold anything; texts are in quotes already. */
function safePiece(piece: Piece): Piece {
  return typeof piece === 'string'
    ? escapeControls(piece)
    : { ...piece, open: escapeControls(piece.open) };
}

/** How much one print may show. */
interface Bounds {
  readonly items: number;
  readonly text: number;
  /** Objects in all. */
  readonly left: number;
  readonly levels: number;
}

function printPrimitive(value: unknown, text: number): string {
  switch (typeof value) {
    case 'string':
      return quoted(value, text);
    case 'bigint':
      return `${value}n`;
    case 'symbol':
      return printSymbol(value);
    default:
      return Object.is(value, -0) ? '-0' : String(value);
  }
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
  return isIdentifier(key) ? `.${key}` : `[${inQuotes(key)}]`;
}
