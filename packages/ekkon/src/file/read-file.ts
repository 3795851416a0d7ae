import {
  closeSync,
  createReadStream,
  mkdtempSync,
  openSync,
  readSync,
  rmSync,
  statSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createGunzip } from 'node:zlib';
import type { Journal } from '../record/journal.ts';
import { kindOfLine, LineReader, type Told } from '../record/read-lines.ts';
import { writeAll } from './write-all.ts';

/** A line of a file, and whether it is the last. */
interface FileLine {
  readonly text: string;
  readonly number: number;
  readonly isLast: boolean;
}

/** Bytes that are read at a time. */
const chunk = 1 << 16;

const lineBreak = 10;

/**
 * The lines of a file one after the other, without the file in memory.
 *
 * @param around if given: only the first lines, and those around some texts; all that have one are among them
 */
export function* linesOfFile(path: string, around?: readonly string[]): Generator<FileLine> {
  const sought = around?.map((text) => Buffer.from(text));
  let number = 0;
  for (const block of blocksOf(path)) {
    if (number > 0 && sought?.some((text) => block.includes(text)) === false) {
      for (let at = block.indexOf(lineBreak); at !== -1; at = block.indexOf(lineBreak, at + 1))
        number++;
      continue;
    }
    const lines = block.toString().split('\n');
    const isLast = block.at(-1) !== lineBreak;
    // No line begins after the last line break.
    if (!isLast || (block.length === 0 && number > 0)) lines.pop();
    for (const line of lines)
      yield { text: line.endsWith('\r') ? line.slice(0, -1) : line, number: ++number, isLast };
  }
}

/**
 * The content of a file in pieces of whole lines, and at last what stands after the last line break. Each piece is valid
 * until the next one is asked for.
 */
function* blocksOf(path: string): Generator<Buffer> {
  const file = openSync(path, 'r');
  try {
    let buffer = Buffer.allocUnsafe(chunk);
    let held = 0;
    for (;;) {
      if (held === buffer.length) buffer = Buffer.concat([buffer], 2 * held);
      const read = readSync(file, buffer, held, buffer.length - held, null);
      const filled = held + read;
      const end = held + buffer.subarray(held, filled).lastIndexOf(lineBreak) + 1;
      if (end > held || read === 0) {
        yield buffer.subarray(0, end);
        buffer.copyWithin(0, end, filled);
        held = filled - end;
      } else held = filled;
      if (read === 0) break;
    }
  } finally {
    closeSync(file);
  }
}

/**
 * Passes `use` a path that can be read more than once: that of the file, or that of a temporary copy if the input can
 * be read only once (`-` for standard input, a pipe) or is compressed.
 */
export async function withPath<T>(file: string, use: (path: string) => T | Promise<T>): Promise<T> {
  const isFile = file !== '-' && !isPipe(file);
  if (isFile && !isCompressed(file)) return await use(file);
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-input-'));
  const remove = () => rmSync(folder, { recursive: true, force: true });
  const stop = (signal: NodeJS.Signals) => {
    remove();
    process.kill(process.pid, signal);
  };
  const signals = ['SIGINT', 'SIGTERM', 'SIGHUP'] as const;
  for (const signal of signals) process.once(signal, stop);
  try {
    const kept = isFile ? file : join(folder, 'input.jsonl');
    if (!isFile) await keep(file === '-' ? process.stdin : createReadStream(file), kept);
    if (!isCompressed(kept)) return await use(kept);
    const unpacked = join(folder, 'unpacked.jsonl');
    await keep(createReadStream(kept).pipe(createGunzip()), unpacked);
    return await use(unpacked);
  } finally {
    for (const signal of signals) process.off(signal, stop);
    remove();
  }
}

/** Whether something can be read only once. */
function isPipe(file: string): boolean {
  const stats = statSync(file);
  return stats.isFIFO() || stats.isSocket() || stats.isCharacterDevice();
}

/** Whether a file begins as gzip does (RFC 1952, 2.3.1). */
function isCompressed(path: string): boolean {
  const file = openSync(path, 'r');
  try {
    const start = Buffer.alloc(2);
    return readSync(file, start, 0, 2, 0) === 2 && start[0] === 0x1f && start[1] === 0x8b;
  } finally {
    closeSync(file);
  }
}

async function keep(source: AsyncIterable<unknown>, path: string): Promise<void> {
  const file = openSync(path, 'w');
  try {
    for await (const part of source) {
      try {
        writeAll(file, part as Uint8Array);
      } catch (error) {
        // The problem is the disk of the copy, not the input.
        throw Object.assign(error as object, { path });
      }
    }
  } finally {
    closeSync(file);
  }
}

/** The content of a file. */
export interface ReadFile {
  readonly journal: Journal;
  readonly truncated: boolean;
}

/**
 * Yields the content of each line of a ledger file.
 *
 * @param again a journal with the declarations of the file: no entry is kept in it
 */
export function* toldIn(path: string, again?: Journal): Generator<Told, ReadFile> {
  let reader: LineReader | undefined;
  for (const { text, number, isLast } of linesOfFile(path)) {
    if (reader === undefined) {
      reader = new LineReader(text, again);
      continue;
    }
    if (isLast && !LineReader.isWhole(text)) return { journal: reader.journal, truncated: true };
    yield reader.take(text, number);
  }
  const read = reader ?? new LineReader('');
  return { journal: read.journal, truncated: !read.isClosed };
}

/** Reads a ledger file into a journal, line by line; `hear` receives the content of each line. */
export function readLedgerFile(
  path: string,
  hear: (told: Told) => void = () => {},
  again?: Journal,
): ReadFile {
  const lines = toldIn(path, again);
  for (;;) {
    const { done, value } = lines.next();
    if (done === true) return value;
    hear(value);
  }
}

/**
 * Reads only the first entries of a ledger file, and counts the others without looking into them.
 *
 * @param most how many are read
 */
export function readFirst(path: string, most: number): ReadFile & { readonly count: number } {
  let reader: LineReader | undefined;
  let count = 0;
  let isWhole = false;
  for (const { text, number, isLast } of linesOfFile(path)) {
    if (reader === undefined) {
      reader = new LineReader(text);
      continue;
    }
    const { journal } = reader;
    if (isLast && !LineReader.isWhole(text)) return { journal, count, truncated: true };
    const kind = kindOfLine(text);
    if (kind?.is === 'begins') count++;
    if (kind?.is === 'closes') isWhole = true;
    else if (kind === undefined || !('id' in kind) || kind.id <= most) reader.take(text, number);
  }
  return { journal: (reader ?? new LineReader('')).journal, count, truncated: !isWhole };
}

/** Reads the declarations of a file, its doubles and marks. */
export function readDeclarations(path: string): Journal {
  // Without the first quotation mark: a search halts at each place that begins alike.
  return declaredIn(linesOfFile(path, ['double"', 'mark"']));
}

/** Reads the declarations of a file, its doubles and marks, and counts its entries without parsing them. */
export function readOutline(path: string): { readonly journal: Journal; readonly count: number } {
  let count = 0;
  const journal = declaredIn(linesOfFile(path), () => count++);
  return { journal, count };
}

/** @param begins is told of each entry */
function declaredIn(lines: Iterable<FileLine>, begins: () => void = () => {}): Journal {
  let reader: LineReader | undefined;
  for (const { text, number } of lines) {
    const is = reader === undefined ? undefined : kindOfLine(text)?.is;
    if (reader === undefined) reader = new LineReader(text);
    else if (is === 'begins') begins();
    // Claims cannot be read without them.
    else if (is === 'double' || is === 'mark') reader.take(text, number);
  }
  return (reader ?? new LineReader('')).journal;
}
