import { Command, Option } from 'commander';
import { loaded } from '../file/ledger-file.ts';
import { shortValue } from '../notation/value.ts';
import { fromLines, type LoadedEntry } from '../record/read-lines.ts';
import { count } from '../report/words.ts';
import { encode } from '../value/encode.ts';
import { inQuotes } from '../value/escape.ts';
import { nearNames } from '../value/near-names.ts';
import { withInputFile } from './claims-file.ts';
import { entryTable } from './entry-table.ts';
import type { ExitCode } from './exit-code.ts';
import { follow } from './follow-file.ts';
import { InputError } from './input-error.ts';
import { traceLines } from './judge-traces.ts';
import { loadFirst } from './load.ts';
import { paint, print } from './terminal.ts';

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
  const { member, limit, json, trace } = options;
  const most = member === undefined && trace === undefined ? limit : undefined;
  const { ledger, count: total } =
    trace === undefined ? await loadFirst('show', file, most) : await loadTrace(file, trace);
  const all = ledger.entries();
  const chosen = member === undefined ? all : entriesOf(all, member, file);
  const shown = chosen.slice(0, limit ?? chosen.length);
  if (json === true) {
    print(JSON.stringify(shown.map(asJson), undefined, 2));
  } else {
    print(
      `${paint('claim', `ledger ${inQuotes(ledger.name)}`)} ${paint('faint', `· ${count(total, 'entry', 'entries')}`)}\n`,
    );
    if (shown.length > 0) print(entryTable(shown));
    const left = (most === undefined ? chosen.length : total) - shown.length;
    if (left > 0) print(paint('faint', `… ${left} more`));
  }
}

async function loadTrace(file: string, trace: string) {
  const lines = await withInputFile('show', file, (path) => traceLines(path, trace));
  const ledger = loaded(fromLines(lines.join('\n')).journal, false);
  return { ledger, count: ledger.entries().length };
}

/** An entry as JSON; what it does not have is left out. */
function asJson({ args, receiver, outcome, ...entry }: LoadedEntry): unknown {
  return {
    ...entry,
    args: encode(args, shortValue),
    ...(receiver === undefined ? {} : { receiver: shortValue(receiver) }),
    outcome: encode(outcome, shortValue),
  };
}

function entriesOf(
  entries: readonly LoadedEntry[],
  member: string,
  file: string,
): readonly LoadedEntry[] {
  const chosen = entries.filter(({ label, double }) => label === member || double === member);
  if (chosen.length > 0) return chosen;
  const labels = [...new Set(entries.map(({ label }) => label))];
  const near = nearNames(member, labels);
  throw new InputError(
    `show --member ${member}: nothing in ${file} goes by that name; ${near.length > 0 ? 'near it is' : 'it has'} ${(near.length > 0 ? near : labels).join(', ')}`,
  );
}
