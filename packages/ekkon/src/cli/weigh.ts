import { Command, InvalidArgumentError, Option } from 'commander';
import { NotationError } from '../grammar/notation-error.ts';
import { claimsIn } from '../grammar/parse-claims.ts';
import { tied } from '../record/tie.ts';
import { inQuotes } from '../value/escape.ts';
import { weighLedger } from '../weigh/weigh-ledger.ts';
import { percentOf, type Weight, weightText } from '../weigh/weight.ts';
import { onlyFile, readClaims } from './claims-file.ts';
import type { ExitCode } from './exit-code.ts';
import { InputError } from './input-error.ts';
import { inputProblem } from './input-problem.ts';
import { loadFor } from './load.ts';
import { columns, paint, print, warn } from './terminal.ts';

interface WeighOptions {
  readonly claims?: string;
  readonly atLeast?: number;
  readonly format: 'text' | 'json';
}

/** `ekkon weigh LEDGER --claims FILE`: how much of a record its claims would notice. */
export function weighCommand(done: (code: ExitCode) => void): Command {
  return new Command('weigh')
    .description('show which changes to a ledger your claims would miss, and the claims to add')
    .argument('<ledger>', 'a file that saveLedger or saveAsItGrows wrote; - is standard input')
    .option('--claims <file>', 'claims that hold on it (the language: docs/claims.md)', onlyFile)
    .option(
      '--at-least <percent>',
      'exit 1 if fewer than this percentage of changes would be noticed',
      readPercent,
    )
    .addOption(
      new Option('--format <format>', 'how to print it').choices(['text', 'json']).default('text'),
    )
    .addHelpText('after', '\nExample: ekkon weigh night.jsonl --claims night.claims --at-least 80')
    .action(async (ledger: string, { claims, atLeast = 0, format }: WeighOptions) => {
      const weight = await weightOf(ledger, claims);
      if (format === 'json') print(JSON.stringify(weight.data, undefined, 2));
      else print(weightText(weight.data, weight.name, { width: columns(), paint }));
      const isEnough = percentOf(weight.data) >= atLeast;
      if (!isEnough)
        warn(
          `weigh: ${percentOf(weight.data)} % of the questions are noticed, --at-least asks for ${atLeast}`,
        );
      done(isEnough ? 0 : 1);
    });
}

function readPercent(text: string): number {
  const percent = Number(text);
  if (!/^\d+$/.test(text) || percent > 100)
    throw new InvalidArgumentError('it must be a whole number from 0 to 100.');
  return percent;
}

async function weightOf(
  file: string,
  claimsFile: string | undefined,
): Promise<{ readonly name: string; readonly data: Weight }> {
  if (claimsFile === undefined)
    throw new InputError(
      'weigh: --claims <file> is missing. Write ekkon weigh night.jsonl --claims night.claims',
    );
  const { text } = readClaims('weigh', claimsFile, [file]);
  const loaded = await loadFor('weigh', file);
  const journal = tied(loaded)?.journal;
  if (journal === undefined) throw new InputError(`weigh ${file}: this is not a ledger file`);
  try {
    const claims = claimsIn(text, journal, claimsFile);
    if (claims.length === 0)
      throw new InputError(
        `weigh: ${claimsFile} has no claim for ledger ${inQuotes(journal.name)}`,
      );
    return { name: loaded.name, data: weighLedger(loaded, claims, weighCommand) };
  } catch (error) {
    if (error instanceof InputError) throw error;
    if (error instanceof NotationError) throw inputProblem('weigh --claims', claimsFile, error);
    if (error instanceof TypeError)
      throw new InputError(error.message.replace(/^weigh\(\)/, `weigh ${file}`));
    throw inputProblem('weigh --claims', claimsFile, error);
  }
}
