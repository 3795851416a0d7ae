import { Command, Option } from 'commander';
import { type EntryOrMark, entriesInOrder } from '../file/entries-in-order.ts';
import { readOutline } from '../file/read-file.ts';
import { printTarget } from '../notation/label.ts';
import { shortValue } from '../notation/value.ts';
import type { Entry } from '../record/entry.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import { fromLines } from '../record/read-lines.ts';
import { count } from '../report/words.ts';
import { encode } from '../value/encode.ts';
import { inQuotes } from '../value/escape.ts';
import { nearNames } from '../value/near-names.ts';
import { withInputFile } from './claims-file.ts';
import { depths, entryTable, type TableItem } from './entry-table.ts';
import type { ExitCode } from './exit-code.ts';
import { follow } from './follow-file.ts';
import { InputError } from './input-error.ts';
import { traceLines } from './judge-traces.ts';
import { isNamed, shownEntry } from './shown-entry.ts';
import { paint, print, warn } from './terminal.ts';

interface ShowOptions {
  readonly member?: string;
  readonly limit?: number;
  readonly json?: true;
  readonly follow?: true;
  readonly trace?: string;
}

/** `ekkon show FILE`: a ledger file as a table of its entries, or as JSON. */
export function showCommand(done: (code: ExitCode) => void): Command {
  return new Command('show')
    .description('show the calls of a ledger file')
    .argument('<file>', 'a ledger file, or - for standard input')
    .option('--member <name>', 'show only this member (camera.expose) or this double (camera)')
    .option('--limit <number>', 'show only the first <number> calls', wholeNumber)
    .option('--json', 'print a JSON array of calls')
    .addOption(
      new Option('--follow', 'keep reading as the file grows, until you interrupt it').conflicts(
        'trace',
      ),
    )
    .option('--trace <id>', 'show one trace of a file of OTLP/JSON spans, one document per line')
    .addHelpText('after', '\nExample: ekkon show saved/night.jsonl --member camera --limit 20')
    .action(async (file: string, options: ShowOptions) => {
      if (options.follow === true) await follow(file, options);
      else await show(file, options);
      done(0);
    });
}

function wholeNumber(text: string): number {
  if (!/^[1-9]\d*$/.test(text))
    throw new InputError(`show --limit ${text}: must be a whole number of 1 or more`);
  return Number(text);
}

async function show(file: string, options: ShowOptions): Promise<void> {
  const { trace } = options;
  await withInputFile('show', file, (path) => {
    if (trace === undefined) {
      const { journal, count: total } = readOutline(path);
      const isCut = showItems(file, options, journal.name, total, entriesInOrder(path, journal));
      if (isCut) warn(`${file} is cut off; shown up to there`);
      return;
    }
    const { journal } = fromLines(traceLines(path, trace).join('\n'));
    const { entries } = journal;
    const items = entries.map((entry) => ({ is: 'entry', entry }) as const);
    showItems(file, options, journal.name, entries.length, items.values());
  });
}

/** Entries that are laid out as one table. */
const tableMost = 1_000;

/**
 * Prints entries as they are read, a thousand at a time.
 *
 * @returns what `items` returns, if all of it was read
 */
function showItems(
  file: string,
  { member, limit = Number.POSITIVE_INFINITY, json }: ShowOptions,
  name: string,
  total: number,
  items: Iterator<EntryOrMark, boolean | undefined>,
): boolean | undefined {
  const rows: TableItem[] = [];
  const depthOf = depths();
  const labels = new Set<string>();
  let [chosen, shown] = [0, 0];
  let isBegun = json === true;
  const flush = () => {
    if (!isBegun) print(headingOf(name, total));
    isBegun = true;
    if (rows.length > 0) print(entryTable(rows, new Set(), depthOf));
    rows.length = 0;
  };
  const showEntry = (entry: HeldEntry) => {
    chosen++;
    if (shown >= limit) return;
    if (json === true) print(`${shown === 0 ? '[' : ','}\n${asJson(entryData(entry))}`);
    else rows.push(shownEntry(entry));
    shown++;
  };
  let next = items.next();
  for (; next.done !== true; next = items.next()) {
    const item = next.value;
    if (item.is === 'mark') {
      if (json !== true && member === undefined && shown < limit) rows.push(item.mark);
      continue;
    }
    const { entry } = item;
    if (member !== undefined) labels.add(printTarget(entry.target));
    if (member === undefined || isNamed(entry, member)) showEntry(entry);
    if (rows.length >= tableMost) flush();
    // Without a member to look for, the rest is only counted.
    if (shown >= limit && member === undefined) break;
  }
  if (member !== undefined && chosen === 0) throw noMember(member, labels, file);
  flush();
  if (json === true) print(shown === 0 ? '[]' : ']');
  const left = (member === undefined ? total : chosen) - shown;
  if (left > 0 && json !== true) print(paint('faint', `… ${left} more`));
  return next.done === true ? next.value : undefined;
}

function headingOf(name: string, total: number): string {
  return `${paint('claim', `ledger ${inQuotes(name)}`)} ${paint('faint', `· ${count(total, 'entry', 'entries')}`)}\n`;
}

/** An entry as JSON, as an item of a list; missing parts are left out. */
function asJson({ args, receiver, outcome, liveArgs: _, ...entry }: Entry): string {
  const data = {
    ...entry,
    args: encode(args, shortValue),
    ...(receiver === undefined ? {} : { receiver: shortValue(receiver) }),
    outcome: encode(outcome, shortValue),
  };
  return JSON.stringify(data, undefined, 2).replaceAll(/^/gm, '  ');
}

function noMember(member: string, labels: ReadonlySet<string>, file: string): InputError {
  const near = nearNames(member, [...labels]);
  return new InputError(
    `show --member ${member}: nothing in ${file} goes by that name; ${near.length > 0 ? 'near it is' : 'it has'} ${(near.length > 0 ? near : [...labels]).join(', ')}`,
  );
}
