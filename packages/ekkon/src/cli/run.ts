import { Command, CommanderError, type OutputConfiguration } from 'commander';
import { version } from '../../package.json';
import { shortValue } from '../notation/value.ts';
import { safeText } from '../value/escape.ts';
import { checkCommand } from './check.ts';
import { compareCommand } from './compare.ts';
import { completionCommand } from './completion.ts';
import { convertCommand } from './convert.ts';
import { demoCommand } from './demo.ts';
import { drawCommand } from './draw.ts';
import type { ExitCode } from './exit-code.ts';
import { InputError } from './input-error.ts';
import { showCommand } from './show.ts';
import { warn } from './terminal.ts';
import { weighCommand } from './weigh.ts';

/** Runs the command line and returns the exit code. A problem with the input ends in one clear line. */
export async function run(args: readonly string[]): Promise<ExitCode> {
  let code: ExitCode = 0;
  const program = new Command('ekkon')
    .description('Records what test doubles receive, and says which call was wrong and where.')
    .version(version, '--version', 'print the version')
    .exitOverride()
    .configureOutput(oneLine);
  const done = (outcome: ExitCode) => {
    code = outcome;
  };
  const commands = [
    demoCommand,
    showCommand,
    checkCommand,
    compareCommand,
    drawCommand,
    weighCommand,
    convertCommand,
    completionCommand,
  ];
  for (const command of commands.map((make) => make(done))) {
    command.exitOverride().configureOutput(oneLine);
    program.addCommand(command);
  }
  try {
    await program.parseAsync([...args], { from: 'user' });
    return code;
  } catch (error) {
    return failed(error);
  }
}

/** The problem with a command line, in the style of all other errors. */
const oneLine: OutputConfiguration = {
  outputError(text, write) {
    const said = text
      .trim()
      .replace(/^error: /, '')
      .replace(/^unknown (command|option) '([^']*)'/, 'there is no $1 $2')
      .replace(/^missing required argument '([^']*)'/, '<$1> is missing')
      .replace(/^required option '(?:-\w, )?(--\S+) <([^>]*)>' not specified/, '$1 <$2> is missing')
      .replace(
        /^option '(?:-\w, )?(--\S+) <[^>]*>' argument '([^']*)' is invalid\. Allowed choices are /,
        '$1 $2: it must be one of ',
      )
      .replace(/^option '(?:-\w, )?(--\S+) <[^>]*>' argument '([^']*)' is invalid\. /, '$1 $2: ')
      .replace(
        /^option '(--[a-z-]+)(?: [^']*)?' cannot be used with option '(--[a-z-]+)(?: [^']*)?'/,
        '$1 and $2 cannot be given together',
      )
      .replace(/\s\(Did you mean ([^(?)]*)\?\)/, '; did you mean $1?');
    write(safeText(`ekkon: ${said.replace(/\.$/, '')} (see ekkon --help)\n`));
  },
};

function stackOf(error: unknown): string {
  return error instanceof Error && error.stack !== undefined ? error.stack : shortValue(error);
}

function failed(error: unknown): ExitCode {
  // Commander has already printed the problem, or the help.
  if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
  if (error instanceof InputError) warn(error.message);
  else
    warn(`this is a fault in Ekkon itself; please report it with these lines:\n${stackOf(error)}`);
  return 2;
}
