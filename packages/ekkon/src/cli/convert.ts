import { readFileSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { Command, Option } from 'commander';
import { type Converted, toCsv, toOtlp, toTraceEvents } from '../file/convert.ts';
import { fromOtlp } from '../file/spans.ts';
import type { ExitCode } from './exit-code.ts';
import { inputProblem } from './input-problem.ts';
import { loadFor } from './load.ts';

interface ConvertOptions {
  readonly to: string;
  readonly output?: string;
}

const formats: Readonly<Record<string, (record: Converted) => string>> = {
  csv: toCsv,
  trace: toTraceEvents,
  otlp: toOtlp,
};

/** `ekkon convert FILE --to FORMAT`: a record in other forms, and spans as a record. */
export function convertCommand(done: (code: ExitCode) => void): Command {
  return new Command('convert')
    .description(
      'turn a ledger file into CSV, trace events or OTLP spans, and OTLP spans into a ledger file',
    )
    .argument('<file>', 'a ledger file, or spans in OTLP/JSON for --to ledger; - is standard input')
    .addOption(
      new Option('--to <format>', 'what to make of it')
        .choices([...Object.keys(formats), 'ledger'])
        .makeOptionMandatory(),
    )
    .option('-o, --output <file>', 'what to write; standard output if left out')
    .addHelpText('after', '\nExample: ekkon convert spans.json --to ledger -o night.jsonl')
    .action(async (file: string, { to, output }: ConvertOptions) => {
      const made = to === 'ledger' ? ledgerOf(file) : await converted(file, to);
      if (output === undefined || output === '-') process.stdout.write(made);
      else write(output, made);
      done(0);
    });
}

async function converted(file: string, to: string): Promise<string> {
  const ledger = await loadFor('convert', file);
  return formats[to]?.({ name: ledger.name, entries: ledger.entries() }) ?? '';
}

function ledgerOf(file: string): string {
  try {
    const text = readFileSync(file === '-' ? 0 : file, 'utf8');
    const name = file === '-' ? 'spans' : basename(file).replace(/\.\w+$/, '');
    return fromOtlp(text, name)
      .map((line) => `${line}\n`)
      .join('');
  } catch (error) {
    throw inputProblem('convert', file, error);
  }
}

function write(output: string, text: string): void {
  try {
    writeFileSync(output, text);
  } catch (error) {
    throw inputProblem('convert -o', output, error);
  }
}
