import { closeSync, openSync, readFileSync, writeFileSync } from 'node:fs';
import type { Ledger } from '../ledger/ledger.ts';
import { shortValue } from '../notation/value.ts';
import { fileFrom } from '../record/call-site.ts';
import { doublesNamed } from '../record/double-names.ts';
import { entryData } from '../record/entry-data.ts';
import type { Journal } from '../record/journal.ts';
import {
  beginLine,
  closingLine,
  doubleLine,
  endLine,
  type Line,
  type LineOptions,
  markLine,
  toLines,
} from '../record/lines.ts';
import { fromLines, type LoadedEntry } from '../record/read-lines.ts';
import { tie, tied } from '../record/tie.ts';
import { openJudgements } from '../rule/judgements.ts';
import { levelsIn, type RuleLevels } from '../rule/rules.ts';
import type { Below } from '../value/below.ts';
import { inQuotes } from '../value/escape.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { refuse } from '../value/refuse.ts';
import { writeAll } from './write-all.ts';

/** A file's address as a URL, whether or not the program has the platform's types. */
export interface FileAddress {
  readonly href: string;
  readonly protocol: string;
}

/** A record read back from a file: it can be checked like a ledger. */
export interface LoadedLedger {
  /** The ledger's name. */
  readonly name: string;
  /** Whether the file was cut off, as it is if a process is killed before its ledger is closed. */
  readonly truncated: boolean;
  /** Every entry in order, as far as the file goes. */
  entries(): readonly LoadedEntry[];
}

/**
 * Writes a ledger's record so far to a file: JSON Lines, a header, the doubles, and one event per line. Call sites
 * below the working folder are written relative to it. An existing file is replaced.
 *
 * @throws TypeError if it is given no ledger, or no path; whatever the file system throws
 * @example
 * import { saveLedger } from 'ekkon/file';
 *
 * saveLedger(ledger, 'rain.ledger.jsonl');
 */
export function saveLedger(ledger: Ledger | LoadedLedger, path: string | FileAddress): void {
  const journal = journalFor(ledger, saveLedger);
  writeFileSync(readPath(path, saveLedger), linesOf(toLines(journal, options())));
}

/**
 * Writes a ledger to a file event by event, as it is recorded, so the file of a killed process has everything up to
 * then. Earlier events are written at once. An existing file is replaced; writing ends when the ledger is closed.
 *
 * @throws TypeError if it is given no open ledger, or no path; whatever the file system throws
 * @example
 * import { saveAsItGrows } from 'ekkon/file';
 *
 * saveAsItGrows(ledger, 'night.ledger.jsonl');
 */
export function saveAsItGrows(ledger: Ledger, path: string | FileAddress): void {
  const place = readPath(path, saveAsItGrows);
  const journal = journalFor(ledger, saveAsItGrows);
  if (journal.closed || journal.keeping !== undefined) {
    refuse(
      `saveAsItGrows(): ledger ${inQuotes(journal.name)} ${journal.closed ? 'is closed' : 'is written to a file already'}.`,
      saveAsItGrows,
    );
  }
  const lineOptions = { ...options(), goesOn: true };
  writeFileSync(place, linesOf(toLines(journal, lineOptions)));
  const file = openSync(place, 'a');
  const written = new Set(doublesNamed(journal).keys());
  const write = (line: Line) => writeAll(file, `${intrinsics.stringify(line)}\n`);
  const writeDoubles = () => {
    const doubles = doublesNamed(journal);
    if (doubles.size === written.size) return;
    for (const [name, kind] of doubles) {
      if (written.has(name)) continue;
      written.add(name);
      write(doubleLine(name, kind));
    }
  };
  journal.keeping = {
    hear(entry, end) {
      writeDoubles();
      write(end ? endLine(entry, lineOptions) : beginLine(entry, lineOptions));
    },
    pends: ({ id }) => write({ pends: id }),
    mark: (mark) => write(markLine(mark)),
    close() {
      writeDoubles();
      write(closingLine(journal.entries.length));
      journal.keeping = undefined;
      closeSync(file);
    },
  };
}

/**
 * Reads a ledger file back. A file without its closing line was cut off, as by a crash: `truncated` says so, and a last line
 * that is not whole is left out.
 *
 * @returns its name, its entries as plain data, and whether it was cut off
 * @throws TypeError if the file is not a ledger file, with the path and the line that is wrong;
 * whatever the file system throws
 * @example
 * import { loadLedger, saveLedger } from 'ekkon/file';
 *
 * saveLedger(ledger, 'dusk.ledger.jsonl');
 * const { name, entries, truncated } = loadLedger('dusk.ledger.jsonl');
 */
export function loadLedger(path: string | FileAddress): LoadedLedger {
  const place = readPath(path, loadLedger);
  const text = readFileSync(place, 'utf8');
  try {
    const { journal, truncated } = fromLines(text);
    return loaded(journal, truncated);
  } catch (error) {
    throw new TypeError(`${place}: ${error instanceof Error ? error.message : String(error)}`, {
      cause: error,
    });
  }
}

/** A journal that was read, as the test holds it. */
export function loaded(
  journal: Journal,
  truncated: boolean,
  levels: RuleLevels = levelsIn('usual'),
): LoadedLedger {
  journal.closed = true;
  openJudgements(journal, levels);
  const ledger: LoadedLedger = {
    name: journal.name,
    truncated,
    entries: () => journal.entries.map(loadedEntry),
  };
  tie(ledger, { is: 'ledger', journal });
  return Object.freeze(ledger);
}

function loadedEntry(entry: Journal['entries'][number]): LoadedEntry {
  const { liveArgs: _, ...data } = entryData(entry);
  return data;
}

/** How values and places are written, seen from where the process runs. */
function options(): LineOptions {
  const folder = intrinsics.cwd?.() ?? '';
  return { show: shortValue, fileOf: (file) => fileFrom(folder, file) };
}

function linesOf(lines: readonly string[]): string {
  return lines.map((line) => `${line}\n`).join('');
}

function journalFor(ledger: unknown, below: Below): Journal {
  const held = tied(ledger);
  if (held?.is !== 'ledger')
    refuse(`${below.name}() takes a ledger first, and was given ${shortValue(ledger)}.`, below);
  return held.journal;
}

/** The path of a file; refuses anything else. */
function readPath(path: unknown, below: Below): string | URL {
  if ((typeof path === 'string' && path !== '') || path instanceof URL) return path;
  refuse(
    `${below.name}() takes the file's path, and was given ${shortValue(path)}. Write 'rain.ledger.jsonl'.`,
    below,
  );
}
