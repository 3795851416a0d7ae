import { Command } from 'commander';
import { compareRecords } from '../report/comparison.ts';
import { comparisonText } from '../report/comparison-text.ts';
import type { ExitCode } from './exit-code.ts';
import { loadFor } from './load.ts';
import { columns, paint, print } from './terminal.ts';

/** `ekkon compare A B`: what differs between two records, aligned. */
export function compareCommand(done: (code: ExitCode) => void): Command {
  return new Command('compare')
    .description(
      'say which entries are gone, new, moved or changed from one ledger file to another',
    )
    .argument('<before>', 'a ledger file, or - for standard input')
    .argument('<after>', 'the one to compare with it')
    .addHelpText('after', '\nExample: ekkon compare saved/yesterday.jsonl saved/today.jsonl')
    .action(async (before: string, after: string) => {
      const [one, other] = [await loadFor('compare', before), await loadFor('compare', after)];
      const changes = compareRecords(one.entries(), other.entries());
      print(comparisonText(changes, { width: columns(), paint }));
      done(changes.length === 0 ? 0 : 1);
    });
}
