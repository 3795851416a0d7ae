import { readFileSync, writeFileSync } from 'node:fs';
import { Command } from 'commander';
import type { Verdict } from '../explain/finding.ts';
import type { LoadedEntry } from '../record/read-lines.ts';
import { tied } from '../record/tie.ts';
import { lanes, type Notes, noteKey } from '../report/lanes.ts';
import { mermaidText } from '../report/mermaid.ts';
import { unpainted } from '../report/paint.ts';
import { lanesSvg } from '../report/svg.ts';
import { levelsIn } from '../rule/rules.ts';
import type { ExitCode } from './exit-code.ts';
import { InputError } from './input-error.ts';
import { inputProblem } from './input-problem.ts';
import { judgeJournal } from './judge-file.ts';
import { loadFor } from './load.ts';
import { print } from './terminal.ts';

interface DrawOptions {
  readonly output?: string;
  readonly claims?: string;
  readonly format?: string;
}

type Draw = (title: string, entries: readonly LoadedEntry[], notes: Notes) => string;

/** How wide a drawing in text may get, in columns. */
const textWidth = 160;

const formats: Readonly<Record<string, Draw>> = {
  txt: (_, entries, notes) =>
    `${lanes(entries, notes, { width: textWidth, paint: unpainted }).join('\n')}\n`,
  svg: lanesSvg,
  mmd: (title, entries) => mermaidText(title, entries),
};

/** `ekkon draw LEDGER -o FILE`: a picture of a record, by the file's ending. */
export function drawCommand(done: (code: ExitCode) => void): Command {
  return new Command('draw')
    .description('draw a ledger file: lanes as text or SVG, or a Mermaid sequence diagram')
    .argument('<ledger>', 'a ledger file, or - for standard input')
    .option(
      '-o, --output <file>',
      'what to write: its ending, .txt, .svg or .mmd, says how; - is standard output',
    )
    .option('--claims <file>', 'mark what claims find')
    .option('--format <format>', 'txt, svg or mmd, if the output has no ending')
    .addHelpText(
      'after',
      '\nExample: ekkon draw saved/night.jsonl --claims night.claims -o night.svg',
    )
    .action(async (file: string, options: DrawOptions) => {
      const { output } = options;
      if (output === undefined)
        throw new InputError(
          'draw: -o <file> is missing. Write ekkon draw night.jsonl -o night.svg',
        );
      const draw = formatFor(output, options.format);
      const ledger = await loadFor('draw', file);
      const notes =
        options.claims === undefined ? new Map() : notesOf(ledger, file, options.claims);
      const drawn = draw(`ledger "${ledger.name}"`, ledger.entries(), notes);
      if (output === '-') return print(drawn.trimEnd());
      try {
        writeFileSync(output, drawn);
      } catch (error) {
        throw inputProblem('draw -o', output, error);
      }
      done(0);
    });
}

function formatFor(output: string, format: string | undefined): Draw {
  const ending = format ?? /\.(\w+)$/.exec(output)?.[1];
  const draw = ending !== undefined && Object.hasOwn(formats, ending) ? formats[ending] : undefined;
  if (draw !== undefined) return draw;
  throw new InputError(
    `draw -o ${output}: ${ending === undefined ? 'it has no ending; write --format svg' : `nothing is drawn as .${ending}`}; these are: ${Object.keys(formats).join(', ')}`,
  );
}

/** What claims find, at the entries at fault. */
function notesOf(ledger: object, shown: string, file: string): Notes {
  const journal = tied(ledger)?.journal;
  if (journal === undefined) return new Map();
  try {
    const text = readFileSync(file, 'utf8');
    const { claims, verdict } = judgeJournal(journal, shown, { text, file }, levelsIn('usual'));
    if (claims.length === 0)
      throw new InputError(`draw --claims ${file}: it has no claim for ledger "${journal.name}"`);
    return marksOf(verdict);
  } catch (error) {
    throw inputProblem('draw --claims', file, error);
  }
}

function marksOf({ findings }: Verdict): Notes {
  const notes = new Map<string, string>();
  for (const { culprits, claim } of findings) {
    const [first] = culprits;
    if (first !== undefined && !notes.has(noteKey(first, false)))
      notes.set(noteKey(first, false), claim);
  }
  return notes;
}
