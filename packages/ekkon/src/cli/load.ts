import type { LoadedLedger } from '../file/index.ts';
import { loaded } from '../file/ledger-file.ts';
import { readLedgerFile, withInput } from '../file/read-file.ts';
import { inputProblem } from './input-problem.ts';

/** A ledger file in memory; `-` is standard input. Says if its last line is cut off. */
export async function loadFor(command: string, file: string): Promise<LoadedLedger> {
  const read = (path: string) => {
    const { journal, truncated } = readLedgerFile(path);
    return loaded(journal, truncated);
  };
  try {
    const ledger = file === '-' ? await withInput(read) : read(file);
    if (ledger.truncated)
      process.stderr.write(`ekkon: the last line of ${file} is cut off; shown up to there\n`);
    return ledger;
  } catch (error) {
    throw inputProblem(command, file, error);
  }
}
