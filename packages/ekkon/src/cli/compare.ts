import { Command, Option } from 'commander';
import type { Since } from '../explain/since.ts';
import type { Journal } from '../record/journal.ts';
import { sinceData } from '../report/since-data.ts';
import { comparisonText } from '../report/since-words.ts';
import { levelsIn } from '../rule/rules.ts';
import { asRecordOf } from '../since/last-pass.ts';
import { changesBetween } from '../since/since.ts';
import { guarded, onlyFile, readClaims } from './claims-file.ts';
import type { ExitCode } from './exit-code.ts';
import { judgeRecord } from './judge-file.ts';
import { journalIn } from './since-file.ts';
import { columns, paint, print } from './terminal.ts';

interface CompareOptions {
  readonly claims?: string;
  readonly format: 'text' | 'json';
}

/** `ekkon compare A B`: the changes from one record to another. */
export function compareCommand(done: (code: ExitCode) => void): Command {
  return new Command('compare')
    .description(
      'show what changed from one ledger file to another: calls that are missing, new, moved or changed, and ends that moved',
    )
    .argument('<before>', 'a ledger file, or - for standard input')
    .argument('<after>', 'the ledger file to compare with it')
    .option(
      '--claims <file>',
      'mark the first change to a member that a failing claim mentions',
      onlyFile,
    )
    .addOption(
      new Option('--format <format>', 'how to print the changes')
        .choices(['text', 'json'])
        .default('text'),
    )
    .addHelpText('after', '\nExample: ekkon compare saved/yesterday.jsonl saved/today.jsonl')
    .action(async (before: string, after: string, { claims, format }: CompareOptions) => {
      const [one, other] = [await journalIn('compare', before), await journalIn('compare', after)];
      const found = claims === undefined ? [] : findings(other, after, claims, [before, after]);
      const since = changesBetween(asRecordOf(one), other, found, { at: { is: 'over' } });
      print(
        format === 'json'
          ? JSON.stringify(sinceData(since, 'in the earlier record'), undefined, 2)
          : comparisonText(since, { width: columns(), paint }),
      );
      done(isSame(since) ? 0 : 1);
    });
}

function isSame({ groups, counts }: Since): boolean {
  return groups.length === 0 && counts === undefined;
}

function findings(journal: Journal, file: string, claims: string, files: readonly string[]) {
  const text = readClaims('compare', claims, files);
  const judged = guarded('compare', file, claims, () =>
    judgeRecord(journal, file, text, levelsIn('loose'), false),
  );
  return judged.verdict.findings;
}
