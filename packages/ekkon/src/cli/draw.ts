import { writeFileSync } from 'node:fs';
import { Command } from 'commander';
import { entriesMost, pagePart, reportPage } from '../file/report-page.ts';
import { type ClaimsText, judgeJournal } from '../offline/judge-record.ts';
import type { Journal } from '../record/journal.ts';
import { fromLines, type LoadedEntry } from '../record/read-lines.ts';
import { tied } from '../record/tie.ts';
import { type Notes, textOf } from '../report/block.ts';
import type { JudgedLedger } from '../report/judged.ts';
import type { MarkShown } from '../report/lane-layout.ts';
import { lanes, noteKey } from '../report/lanes.ts';
import { mermaidText } from '../report/mermaid.ts';
import type { PageRecord } from '../report/page-data.ts';
import { lanesSvg } from '../report/svg.ts';
import { toldVerdict } from '../report/told.ts';
import { levelsIn } from '../rule/rules.ts';
import { inQuotes, safeText } from '../value/escape.ts';
import { onlyFile, readClaims, withInputFile } from './claims-file.ts';
import type { ExitCode } from './exit-code.ts';
import { InputError } from './input-error.ts';
import { inputProblem } from './input-problem.ts';
import { judgeFile } from './judge-file.ts';
import { loadAtMost } from './load.ts';
import { passedIn, runBefore, withSince } from './since-file.ts';
import { warn } from './terminal.ts';

interface DrawOptions {
  readonly output?: string;
  readonly claims?: string;
  readonly format?: string;
  readonly since?: string;
}

type Draw = (
  title: string,
  entries: readonly LoadedEntry[],
  notes: Notes,
  marks: readonly MarkShown[],
) => string;

/** How wide a drawing in text may get, in columns. */
const textWidth = 160;

/** How many calls a picture shows: they are all in memory, and nobody could look at more. */
const picturedMost = 20_000;

/** How strict the rules are beside the claims, in a drawing. */
const rules = 'usual';

/** The pictures of one ledger, by the ending of the output. */
const pictures: Readonly<Record<string, Draw>> = {
  txt: (_, entries, notes, marks) =>
    `${lanes(entries, notes, textWidth, marks).map(textOf).join('\n')}\n`,
  svg: lanesSvg,
  mmd: (title, entries, _, marks) => mermaidText(title, entries, marks),
};

const endings = [...Object.keys(pictures), 'html'];

/** `ekkon draw LEDGER… -o FILE`: a picture of a record, or a report page, by the file's ending. */
export function drawCommand(done: (code: ExitCode) => void): Command {
  return new Command('draw')
    .description(
      'draw a ledger file: a report page to look at, lanes as text or SVG, or a Mermaid sequence diagram',
    )
    .argument('<ledgers...>', 'a ledger file, or - for standard input; a page takes several')
    .option(
      '-o, --output <file>',
      'the file to write; its ending decides the format: .html, .txt, .svg or .mmd; - is standard output',
    )
    .option('--claims <file>', 'mark what these claims find', onlyFile)
    .option('--since <file>', 'on a page: show what changed since this ledger file')
    .option('--format <format>', 'html, txt, svg or mmd, if the output has no ending')
    .addHelpText(
      'after',
      '\nExample: ekkon draw saved/night.jsonl --claims night.claims -o night.html',
    )
    .action(async (files: readonly string[], options: DrawOptions) => {
      const { output } = options;
      if (output === undefined)
        throw new InputError(
          'draw: -o <file> is missing. Write ekkon draw night.jsonl -o night.html',
        );
      const ending = endingOf(output, options.format);
      const drawn =
        ending === 'html'
          ? await pageOf(files, options)
          : await pictureOf(files, ending, options.claims);
      // A page has its record as data; of its own code nothing may be changed.
      const safe = ending === 'html' ? drawn : safeText(drawn);
      if (output === '-') return void process.stdout.write(`${safe.trimEnd()}\n`);
      try {
        writeFileSync(output, safe);
      } catch (error) {
        throw inputProblem('draw -o', output, error);
      }
      done(0);
    });
}

function endingOf(output: string, format: string | undefined): string {
  const ending = format ?? /\.(\w+)$/.exec(output)?.[1];
  if (ending !== undefined && endings.includes(ending)) return ending;
  throw new InputError(
    `draw -o ${output}: ${ending === undefined ? 'it has no ending; write --format svg' : `nothing is drawn as .${ending}`}; these are: ${endings.join(', ')}`,
  );
}

/** One ledger as a picture. */
async function pictureOf(
  files: readonly string[],
  ending: string,
  claims: string | undefined,
): Promise<string> {
  const [file = '', another] = files;
  if (another !== undefined)
    throw new InputError(`draw: .${ending} shows one ledger, and ${files.length} were given`);
  const ledger = await loadAtMost(
    'draw',
    file,
    picturedMost,
    `a picture takes ${picturedMost.toLocaleString('en')} at most. A page takes more: write -o night.html`,
  );
  const journal = tied(ledger)?.journal;
  if (journal === undefined) throw new InputError(`draw ${file}: this is not a ledger file`);
  const notes = claims === undefined ? new Map() : notesOf(journal, file, claims);
  const draw = pictures[ending];
  const title = `ledger ${inQuotes(ledger.name)}`;
  return draw?.(title, ledger.entries(), notes, journal.marks) ?? '';
}

/** Ledgers as a report page. */
async function pageOf(files: readonly string[], { claims, since }: DrawOptions): Promise<string> {
  const text = claims === undefined ? undefined : readClaims('draw', claims, files);
  const records: PageRecord[] = [];
  let judgedAny = false;
  for (const file of files) {
    const { record, judged } = await withInputFile('draw', file, (path) =>
      recordIn(path, file, text),
    );
    judgedAny ||= judged !== undefined;
    records.push(await recordSince(record, judged, files, since));
  }
  if (claims !== undefined && !judgedAny)
    throw new InputError(`draw --claims ${claims}: it has no claim for any of these ledgers`);
  return reportPage({ records });
}

/** A record of a page with its findings, and with the changes since another run if there is one. */
async function recordSince(
  record: PageRecord,
  judged: Pick<JudgedLedger, 'verdict' | 'claims'> | undefined,
  files: readonly string[],
  since: string | undefined,
): Promise<PageRecord> {
  if (judged === undefined) return record;
  const { verdict, claims } = judged;
  if (since === undefined) return { ...record, verdict: toldVerdict(verdict, claims) };
  const before = await runBefore('draw', files, since);
  const found = await withSince('draw', verdict, record.file, before);
  return { ...record, ...passedIn(before), verdict: toldVerdict(found, claims) };
}

interface Drawn {
  readonly record: PageRecord;
  /** The verdict, if there are claims for the record. */
  readonly judged?: Pick<JudgedLedger, 'verdict' | 'claims'>;
}

function recordIn(path: string, file: string, claims: ClaimsText | undefined): Drawn {
  try {
    const part = pagePart(path);
    const shown = file === '-' ? 'standard input' : file;
    if (part.whole !== undefined)
      warn(`${shown} has ${part.whole} entries; the page shows the first ${entriesMost}`);
    if (claims === undefined) {
      // A file that is not a ledger is refused here, and not by the page.
      const isCut = part.whole === undefined && fromLines(part.text).truncated;
      if (isCut) warn(`${shown} is cut off; shown up to there`);
      return { record: { file: shown, ...part, claims: '', rules } };
    }
    const judged = judgeFile(path, shown, claims, levelsIn(rules), false);
    const record = { file: shown, ...part, claims: claims.text, rules } as const;
    return judged.claims.length === 0 ? { record } : { record, judged };
  } catch (error) {
    throw inputProblem('draw', file, error);
  }
}

/** The findings of claims, at the entries at fault. */
function notesOf(journal: Journal, shown: string, file: string): Notes {
  const { text } = readClaims('draw', file, [shown]);
  try {
    const judged = judgeJournal(journal, shown, { text, file }, levelsIn(rules));
    if (judged.claims.length === 0)
      throw new InputError(
        `draw --claims ${file}: it has no claim for ledger ${inQuotes(journal.name)}`,
      );
    return marksOf(judged);
  } catch (error) {
    throw inputProblem('draw --claims', file, error);
  }
}

/** Notes beside entries: the words of each finding's own picture, otherwise its claim at the entry at fault. */
function marksOf({ verdict, claims }: JudgedLedger): Notes {
  const notes = new Map<string, string>();
  for (const finding of toldVerdict(verdict, claims).findings) {
    const [first] = finding.culprits;
    const own = finding.notes.map(({ entry, end, says }) => [noteKey(entry, end), says] as const);
    const atFault = first === undefined ? [] : [[noteKey(first, false), finding.claim] as const];
    for (const [key, says] of own.length > 0 ? own : atFault)
      if (!notes.has(key)) notes.set(key, says);
  }
  return notes;
}
