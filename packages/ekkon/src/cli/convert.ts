import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { Command, Option } from 'commander';
import { readDeclarations, toldIn } from '../file/read-file.ts';
import { type Converter, converters } from '../offline/convert.ts';
import { fromOtlp } from '../offline/spans.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
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

/** How many entries may wait for one that began before them, so that they are written as they began. */
const waitingMost = 10_000;

/**
 * Converts a ledger file as it is read, so that the memory it takes does not grow with it. Entries are written in
 * the order in which they began; one that goes on while ten thousand others come is written when it ends.
 */
async function convertLedger(
  file: string,
  converterFor: (name: string) => Converter,
  sink: Sink,
): Promise<void> {
  const isCut = await withInputFile('convert', file, async (path) => {
    try {
      const declared = readDeclarations(path);
      declared.tick = 0;
      const converter = converterFor(declared.name);
      await sink.write(converter.head);
      const waiting = new Map<number, HeldEntry>();
      const write = async (most: number) => {
        for (const [id, entry] of waiting) {
          if (entry.ended === undefined && most > 0) {
            if (waiting.size <= most) break;
            continue;
          }
          waiting.delete(id);
          await sink.write(converter.entry(entryData(entry)));
        }
      };
      const progress = progressOf(file);
      const lines = toldIn(path, declared);
      let next = lines.next();
      for (; next.done !== true; next = lines.next()) {
        progress.line();
        const told = next.value;
        if (told === undefined || told.is === 'mark') continue;
        if (told.is === 'begins') waiting.set(told.entry.id, told.entry);
        else await write(waitingMost);
      }
      progress.done();
      await write(0);
      await sink.write(converter.foot());
      return next.value.truncated;
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
