import type { LoadedLedger } from '../file/index.ts';
import { loaded } from '../file/ledger-file.ts';
import { readFirst, readLedgerFile, withPath } from '../file/read-file.ts';
import { InputError } from './input-error.ts';
import { inputProblem } from './input-problem.ts';
import { progressOf } from './progress.ts';
import { warn } from './terminal.ts';

/** A ledger file in memory; `-` is standard input. Says if its last line is cut off. */
export async function loadFor(command: string, file: string): Promise<LoadedLedger> {
  return (await loadFirst(command, file, undefined)).ledger;
}

/**
 * A ledger file in memory, unless it is too long.
 *
 * @param why the end of the error for a longer file: the limit, and what to do
 * @throws InputError if it has more entries
 */
export async function loadAtMost(
  command: string,
  file: string,
  most: number,
  why: string,
): Promise<LoadedLedger> {
  const { ledger, count } = await loadFirst(command, file, most);
  if (count <= most) return ledger;
  throw new InputError(
    `${command} ${file}: it has ${count.toLocaleString('en')} calls, and ${why}`,
  );
}

/** The first entries of a ledger file in memory, and how many there are. */
async function loadFirst(
  command: string,
  file: string,
  most: number | undefined,
): Promise<{ readonly ledger: LoadedLedger; readonly count: number }> {
  const read = (path: string) => {
    const progress = progressOf(file);
    const found =
      most === undefined ? readLedgerFile(path, () => progress.line()) : readFirst(path, most);
    progress.done();
    const count = 'count' in found ? (found.count as number) : found.journal.entries.length;
    return { ledger: loaded(found.journal, found.truncated), count };
  };
  try {
    const found = await withPath(file, read);
    if (found.ledger.truncated) warn(`${file} is cut off; shown up to there`);
    return found;
  } catch (error) {
    throw inputProblem(command, file, error);
  }
}
