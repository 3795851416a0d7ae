import { readFileSync } from 'node:fs';
import { InvalidArgumentError } from 'commander';
import { withPath } from '../file/read-file.ts';
import { NotationError } from '../grammar/notation-error.ts';
import type { ClaimsText } from '../offline/judge-record.ts';
import { InputError } from './input-error.ts';
import { inputProblem } from './input-problem.ts';

/**
 * Reads the claims of a file, or of standard input.
 *
 * @param ledgers the ledger files of the same command: standard input cannot be both
 */
export function readClaims(command: string, file: string, ledgers: readonly string[]): ClaimsText {
  if (file === '-' && ledgers.includes('-'))
    throw new InputError(`${command}: standard input cannot be a ledger and the claims`);
  try {
    return { file, text: readFileSync(file === '-' ? 0 : file, 'utf8') };
  } catch (error) {
    throw inputProblem(`${command} --claims`, file, error);
  }
}

/**
 * Passes `use` a path of a file that can be read more than once, also for standard input. An error of the system
 * becomes one clear error.
 */
export async function withInputFile<T>(
  command: string,
  file: string,
  use: (path: string) => T | Promise<T>,
): Promise<T> {
  try {
    return await withPath(file, use);
  } catch (error) {
    throw inputProblem(command, file, error);
  }
}

/** Runs code that reads claims and a ledger, and says which file an error is about. */
export function guarded<T>(command: string, file: string, claims: string, run: () => T): T {
  try {
    return run();
  } catch (error) {
    if (error instanceof NotationError) throw inputProblem(`${command} --claims`, claims, error);
    throw inputProblem(command, file, error);
  }
}

/** Takes the value of `--claims`: a second file would take the place of the first. */
export function onlyFile(file: string, before: string | undefined): string {
  if (before !== undefined)
    throw new InvalidArgumentError('it was given before; put the claims into one file.');
  return file;
}
