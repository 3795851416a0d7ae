import { readFileSync, writeFileSync } from 'node:fs';
import type { Ledger } from '../double/ledger.ts';
import { shortValue } from '../notation/value.ts';
import { fileFrom } from '../record/call-site.ts';
import { entryData } from '../record/entry-data.ts';
import { fromLines, type LoadedLedger, toLines } from '../record/lines.ts';
import { refuse } from '../record/refuse.ts';
import { tied } from '../record/tie.ts';

/**
 * Writes what a ledger recorded so far to a file: JSON Lines, a header and then an event a line. Call
 * sites below the folder the process runs in are written relative to it. An existing file is replaced.
 *
 * @throws TypeError if it is given no ledger; whatever the file system throws
 * @example
 * saveLedger(ledger, 'saved/rain.ledger.jsonl');
 */
export function saveLedger(
  ledger: Pick<Ledger, 'name' | 'entries'> | LoadedLedger,
  path: string | URL,
): void {
  readPath(path, saveLedger);
  const isLedger = typeof ledger === 'object' && typeof ledger?.name === 'string';
  if (!isLedger || typeof ledger.entries !== 'function') {
    refuse(`saveLedger() takes a ledger first, and was given ${shortValue(ledger)}.`, saveLedger);
  }
  const folder = process.cwd();
  // What was recorded, and not what is shown of it to others.
  const journal = tied(ledger)?.journal;
  const entries = () => journal?.entries.map(entryData) ?? ledger.entries();
  const lines = toLines(
    { name: ledger.name, entries },
    { show: shortValue, fileOf: (file) => fileFrom(folder, file) },
  );
  writeFileSync(path, lines.map((line) => `${line}\n`).join(''));
}

/**
 * Reads a ledger file back. A last line that a crash cut off is left out, and `truncated` says so.
 *
 * @returns its name, its entries as plain data, and whether it was cut off
 * @throws TypeError if the file is not a ledger file, with the path and the line that is wrong;
 * whatever the file system throws
 * @example
 * const { name, entries, truncated } = loadLedger('saved/rain.ledger.jsonl');
 */
export function loadLedger(path: string | URL): LoadedLedger {
  readPath(path, loadLedger);
  const text = readFileSync(path, 'utf8');
  try {
    return fromLines(text);
  } catch (error) {
    throw new TypeError(`${path}: ${error instanceof Error ? error.message : String(error)}`, {
      cause: error,
    });
  }
}

/** Refuses what names no file. */
function readPath(path: unknown, below: (...args: never[]) => unknown): void {
  if ((typeof path === 'string' && path !== '') || path instanceof URL) return;
  refuse(
    `${below.name}() takes the file's path, and was given ${shortValue(path)}. Write 'saved/rain.ledger.jsonl'.`,
    below,
  );
}
