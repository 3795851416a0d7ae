import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { Command, Option } from 'commander';
import { entriesInOrder } from '../file/entries-in-order.ts';
import { readDeclarations } from '../file/read-file.ts';
import { type Converter, converters } from '../offline/convert.ts';
import { fromOtlp } from '../offline/spans.ts';
import { entryData } from '../record/entry-data.ts';
import { withInputFile } from './claims-file.ts';
import type { ExitCode } from './exit-code.ts';
import { InputError } from './input-error.ts';
import { inputProblem } from './input-problem.ts';
import { progressOf } from './progress.ts';
import { openSink, type Sink } from './sink.ts';
import { warn } from './terminal.ts';

interface ConvertOptions {
  readonly to: string;
  readonly output?: string;
}

/** `ekkon convert FILE --to FORMAT`: a record in other forms, and spans as a record. */
export function convertCommand(done: (code: ExitCode) => void): Command {
  return new Command('convert')
    .description(
      'turn a ledger file into CSV, trace events or OTLP spans, and OTLP spans into a ledger file',
    )
    .argument('<file>', 'a ledger file, or spans in OTLP/JSON for --to ledger; - is standard input')
    .addOption(
      new Option('--to <format>', 'the format to write')
        .choices([...Object.keys(converters), 'ledger'])
        .makeOptionMandatory(),
    )
    .option('-o, --output <file>', 'the file to write; default: standard output')
    .addHelpText('after', '\nExample: ekkon convert spans.json --to ledger -o night.jsonl')
    .action(async (file: string, { to, output }: ConvertOptions) => {
      const sink = openSink(output);
      if (to === 'ledger') for (const line of await ledgerOf(file)) await sink.write(`${line}\n`);
      else await convertLedger(file, converters[to as keyof typeof converters], sink);
      await sink.end();
      done(0);
    });
}

/** Converts a ledger file while it is read, so its memory does not grow with the file. */
async function convertLedger(
  file: string,
  converterFor: (name: string) => Converter,
  sink: Sink,
): Promise<void> {
  const isCut = await withInputFile('convert', file, async (path) => {
    try {
      const declared = readDeclarations(path);
      const converter = converterFor(declared.name);
      await sink.write(converter.head);
      const progress = progressOf(file);
      const items = entriesInOrder(path, declared, () => progress.line());
      let next = items.next();
      for (; next.done !== true; next = items.next()) {
        if (next.value.is === 'entry')
          await sink.write(converter.entry(entryData(next.value.entry)));
      }
      progress.done();
      await sink.write(converter.foot());
      return next.value;
    } catch (error) {
      throw error instanceof InputError ? error : inputProblem('convert', file, error);
    }
  });
  if (isCut) warn(`${file} is cut off; converted up to there`);
}

async function ledgerOf(file: string): Promise<readonly string[]> {
  const name = file === '-' ? 'spans' : basename(file).replace(/(\.\w+)?(\.gz)?$/, '');
  return await withInputFile('convert', file, (path) => fromOtlp(readFileSync(path, 'utf8'), name));
}
