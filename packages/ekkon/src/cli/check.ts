import { Command, InvalidArgumentError, Option } from 'commander';
import { sectionsIn } from '../grammar/parse-claims.ts';
import type { ClaimsText } from '../offline/judge-record.ts';
import { mergeJournals } from '../offline/merge.ts';
import type { Journal } from '../record/journal.ts';
import { tied } from '../record/tie.ts';
import {
  type JudgedLedger,
  judgedData,
  junitText,
  tapText,
  type UnjudgedLedger,
} from '../report/judged.ts';
import { reportText } from '../report/text.ts';
import { levelsIn, type RuleLevels, type RuleSet } from '../rule/rules.ts';
import { inQuotes } from '../value/escape.ts';
import { didYouMean } from '../value/near-names.ts';
import { printsAs } from '../value/prints-as.ts';
import { guarded, onlyFile, readClaims, withInputFile } from './claims-file.ts';
import type { ExitCode } from './exit-code.ts';
import { InputError } from './input-error.ts';
import { type JudgedFile, judgeFile, judgeRecord } from './judge-file.ts';
import { judgeTraces } from './judge-traces.ts';
import { loadFor } from './load.ts';
import { runBefore, withSince } from './since-file.ts';
import { columns, paint, print, warn } from './terminal.ts';

interface CheckOptions {
  readonly claims?: string;
  readonly format: 'text' | 'json' | 'junit' | 'tap';
  readonly rules: RuleSet;
  readonly allowCut?: boolean;
  readonly merge?: true;
  readonly by?: 'trace';
  readonly skew: number;
  readonly patience: number;
  readonly since?: string;
}

/** `ekkon check LEDGER… --claims FILE`: checks ledger files against claims in a text. */
export function checkCommand(done: (code: ExitCode) => void): Command {
  return new Command('check')
    .description('check saved ledgers against a claims file; - is standard input')
    .argument('<ledgers...>', 'files that saveLedger or saveAsItGrows wrote')
    .option(
      '--claims <file>',
      'the claims (the language: docs/claims.md); - is standard input',
      onlyFile,
    )
    .addOption(
      new Option('--format <format>', 'how to print the findings')
        .choices(Object.keys(formats))
        .default('text'),
    )
    .addOption(
      new Option('--rules <set>', 'how strict to be besides the claims')
        .choices(['loose', 'usual', 'careful', 'strict'])
        .default('careful'),
    )
    .addOption(
      new Option(
        '--by <what>',
        'check each trace of OTLP/JSON lines on its own, one verdict per line',
      )
        .choices(['trace'])
        .conflicts(['format', 'merge', 'since', 'allowCut']),
    )
    .option(
      '--skew <ms>',
      'with --by trace: how far apart the clocks of two machines may be; the order of closer events is undecided',
      readSkew,
      10,
    )
    .option(
      '--patience <lines>',
      'with --by trace: check a trace after this many lines without one of its spans',
      readPatience,
      1_000,
    )
    .option('--since <file>', 'show what changed since this ledger file, a run that passed')
    .option('--allow-cut', 'check a file that is cut off as far as it goes')
    .addOption(
      new Option(
        '--merge',
        'check the ledgers as one record, by wall time: runs on one machine',
      ).conflicts('since'),
    )
    .addHelpText(
      'after',
      '\nExample: ekkon check saved/*.jsonl --claims night.claims --format junit',
    )
    .action(async (ledgers: readonly string[], options: CheckOptions, command: Command) => {
      if (options.by === 'trace') return done((await judgeEachTrace(ledgers, options)) ? 0 : 1);
      refuseOfTraces(command);
      const { judged, unjudged } = await judgeAll(ledgers, options);
      const [only] = judged;
      if (options.since !== undefined && only !== undefined) {
        const before = await runBefore('check', ledgers, options.since);
        const verdict = await withSince('check', only.verdict, only.file, before);
        judged.splice(0, 1, { ...only, verdict });
      }
      print(formats[options.format](judged, unjudged));
      for (const { error } of unjudged) warn(error);
      if (unjudged.length > 0) done(2);
      else done(judged.every(({ verdict }) => verdict.holds) ? 0 : 1);
    });
}

/** Options that only say how traces are judged do nothing without `--by trace`. */
function refuseOfTraces(command: Command): void {
  for (const name of ['skew', 'patience'])
    if (command.getOptionValueSource(name) === 'cli')
      throw new InputError(`check: --${name} is for --by trace, which was not given`);
}

function readPatience(text: string): number {
  const lines = Number(text);
  if (text.trim() === '' || !Number.isInteger(lines) || lines < 1)
    throw new InvalidArgumentError('it must be a whole number of lines, 1 or more.');
  return lines;
}

function readSkew(text: string): number {
  const ms = Number(text);
  if (text.trim() === '' || !Number.isFinite(ms) || ms < 0)
    throw new InvalidArgumentError('it must be milliseconds, 0 or more.');
  return ms;
}

async function judgeAll(
  ledgers: readonly string[],
  options: CheckOptions,
): Promise<{ readonly judged: JudgedLedger[]; readonly unjudged: readonly UnjudgedLedger[] }> {
  const claims = claimsFor(options, ledgers);
  const levels = levelsIn(options.rules);
  const allowsCut = options.allowCut === true;
  if (options.merge === true) {
    const merged = await judgeMerged(ledgers, claims, levels, allowsCut);
    refuseIdle([merged], claims);
    warnOfUnheard(merged);
    return { judged: [merged], unjudged: [] };
  }
  const judged: JudgedFile[] = [];
  const unjudged: UnjudgedLedger[] = [];
  for (const ledger of ledgers) {
    let found: JudgedFile;
    try {
      found = await withInputFile('check', ledger, (path) =>
        guarded('check', ledger, claims.file, () =>
          judgeFile(path, ledger, claims, levels, allowsCut),
        ),
      );
    } catch (error) {
      // The others are judged all the same.
      if (!(error instanceof InputError) || ledgers.length === 1) throw error;
      unjudged.push({ file: ledger, error: error.message });
      continue;
    }
    if (found.truncated && allowsCut) warn(`${ledger} is cut off; judged up to there`);
    warnOfUnheard(found);
    judged.push(found);
  }
  if (unjudged.length === 0) refuseIdle(judged, claims);
  return { judged, unjudged };
}

/** Says of claims that hold where a name in them is likely mistyped; whether it is cannot be told. */
function warnOfUnheard({ file, unheard, verdict }: JudgedFile): void {
  const failed = new Set<unknown>(verdict.findings.map(({ of }) => of));
  for (const { claim, name, near } of unheard) {
    if (failed.has(claim)) continue;
    warn(
      `${file}: ${claim[printsAs]} holds, and nothing of ${name} was recorded; ${didYouMean(near, name)}`,
    );
  }
}

/** Judges each trace of the files; tells a verdict a line. */
async function judgeEachTrace(files: readonly string[], options: CheckOptions): Promise<boolean> {
  const claims = claimsFor(options, files);
  const levels = levelsIn(options.rules);
  let holds = true;
  for (const file of files) {
    const found = await withInputFile('check', file, (path) =>
      guarded('check', file, claims.file, () =>
        judgeTraces(path, file, claims, levels, options, (verdict) =>
          print(JSON.stringify(verdict)),
        ),
      ),
    );
    holds &&= found;
  }
  return holds;
}

/** Judges claims on several ledgers as on one. */
async function judgeMerged(
  ledgers: readonly string[],
  claims: ClaimsText,
  levels: RuleLevels,
  allowsCut: boolean,
): Promise<JudgedFile> {
  const loaded: Journal[] = [];
  let isCut = false;
  for (const file of ledgers) {
    const ledger = await loadFor('check', file);
    isCut ||= ledger.truncated;
    const { journal } = tied(ledger) ?? {};
    if (journal !== undefined) loaded.push(journal);
  }
  const shown = ledgers.join(' + ');
  const judge = () =>
    judgeRecord(mergeJournals(loaded), shown, claims, levels, isCut && !allowsCut);
  return { ...guarded('check', shown, claims.file, judge), truncated: false };
}

/** Claims for none of the given ledgers verify nothing, and neither does a ledger without claims. */
function refuseIdle(judged: readonly JudgedFile[], { text, file }: ClaimsText): void {
  const names = new Set(judged.map(({ verdict }) => verdict.ledger));
  const idle = sectionsIn(text).find((name) => name !== '*' && !names.has(name));
  if (idle !== undefined) {
    throw new InputError(
      `check: ${file} has claims for ledger ${inQuotes(idle)}, and none that was given is called that; these are: ${[...names].join(', ')}`,
    );
  }
  const bare = judged.find(({ claims }) => claims.length === 0);
  if (bare !== undefined)
    throw new InputError(
      `check: ${file} has no claim for ledger ${inQuotes(bare.verdict.ledger)} (${bare.file})`,
    );
}

function claimsFor({ claims }: CheckOptions, ledgers: readonly string[]): ClaimsText {
  if (claims === undefined)
    throw new InputError(
      'check: --claims <file> is missing. Write ekkon check night.jsonl --claims night.claims',
    );
  return readClaims('check', claims, ledgers);
}

const formats: Readonly<
  Record<
    CheckOptions['format'],
    (judged: readonly JudgedLedger[], unjudged: readonly UnjudgedLedger[]) => string
  >
> = {
  text: (judged) =>
    judged
      .map(({ verdict }) => reportText(verdict, { width: columns(), paint, places: true }))
      .join('\n\n'),
  json: (judged, unjudged) =>
    JSON.stringify([...judged.map(judgedData), ...unjudged], undefined, 2),
  junit: junitText,
  tap: tapText,
};
