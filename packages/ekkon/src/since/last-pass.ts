import { shortValue } from '../notation/value.ts';
import { fileFrom, readSite, type Site } from '../record/call-site.ts';
import { type Journal, moreOf } from '../record/journal.ts';
import { toLines } from '../record/lines.ts';
import { fromLines } from '../record/read-lines.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { learn } from './learn.ts';
import { afterTheSame, type Learned, nothingUnsteady, type Unsteady } from './unsteady.ts';

/** The record of the last run of a test that passed. */
export interface LastPass extends Learned {
  /** Milliseconds since the epoch. */
  readonly passedAt: number;
  /** The ticks at which its checks and waits were over, one after the other. */
  readonly checks: readonly number[];
}

/** The version of the format that is written; others are left alone. */
const version = 1;

/** Larger records are not kept. A store in a folder keeps them if they take no more than 1 MB compressed. */
const callsKept = 5_000;
const charactersKept = 8_000_000;

/** The call sites of a record: the files, and for each call its file's place, the line and the column. */
interface Sites {
  readonly files: readonly string[];
  readonly at: readonly (readonly [file: number, line: number, column: number] | null)[];
}

const noSites: Sites = { files: [], at: [] };

/**
 * The text that a store keeps of a passing run: a line about it, then its record like a ledger file, without wall
 * times. Reading call sites costs more than all the rest, so they are taken from the run before if the call was in
 * that, too.
 *
 * @param known the text of the passing run before, if there is one: differences from it are marked as unsteady
 * @returns `undefined` if the record is larger than 5,000 calls or eight million characters
 */
export function writeLastPass(
  journal: Journal,
  about: { readonly test: string; readonly passedAt: number; readonly checks: readonly number[] },
  known: string | undefined,
): string | undefined {
  if (journal.entries.length > callsKept) return undefined;
  const lines = linesIn(journal);
  if (lines.length > charactersKept) return undefined;
  const learned = known === undefined ? undefined : learnedFrom(known, lines, journal);
  const { unsteady, sites } = learned ?? {
    unsteady: nothingUnsteady,
    sites: sitesOf(journal.entries.map(({ more }) => readSite(more?.captured))),
  };
  const header = { ekkon: 'last pass', version, ...about, unsteady, sites };
  return `${intrinsics.stringify(header)}\n${lines}`;
}

function learnedFrom(
  known: string,
  lines: string,
  { entries }: Journal,
): { readonly unsteady: Unsteady; readonly sites: Sites } | undefined {
  const header = headerOf(known);
  if (header === undefined) return undefined;
  const { unsteady = nothingUnsteady, sites = noSites } = header;
  if (known.endsWith(lines) && known[known.length - lines.length - 1] === '\n')
    return { unsteady: afterTheSame(unsteady), sites };
  const before = readLastPass(known);
  if (before === undefined) return undefined;
  const learning = learn(before, fromLines(lines).journal);
  const were = new Map(
    learning.pairs.map(({ was, now }) => [now.id, readSite(was.more?.captured)]),
  );
  return {
    unsteady: learning.unsteady,
    sites: sitesOf(entries.map(({ id, more }) => were.get(id) ?? readSite(more?.captured))),
  };
}

function sitesOf(sites: readonly (Site | undefined)[]): Sites {
  const folder = intrinsics.cwd?.() ?? '';
  const files = new Map<string, number>();
  const at = sites.map((site) => {
    if (site === undefined) return null;
    const file = fileFrom(folder, site.file);
    const place = files.get(file) ?? files.size;
    files.set(file, place);
    return [place, site.line, site.column] as const;
  });
  return { files: [...files.keys()], at };
}

/** A record that was read from a ledger file, as that of a run that passed. */
export function asRecordOf(journal: Journal): LastPass {
  return { journal, passedAt: journal.openedAt, checks: [], unsteady: nothingUnsteady };
}

/** A record as it is read back, so both sides of a comparison were written and read. */
export function asRead(journal: Journal): Journal {
  return fromLines(linesIn(journal)).journal;
}

function linesIn(journal: Journal): string {
  return toLines(journal, { show: shortValue, bare: true }).join('\n');
}

/** Reads a text that `writeLastPass` made; `undefined` if it is of another version, or damaged. */
export function readLastPass(text: string): LastPass | undefined {
  const header = headerOf(text);
  if (header === undefined) return undefined;
  const { passedAt = 0, checks = [], unsteady = nothingUnsteady, sites = noSites } = header;
  try {
    const { journal, truncated } = fromLines(text.slice(text.indexOf('\n') + 1));
    if (truncated) return undefined;
    for (const entry of journal.entries) {
      const [file = -1, line = 0, column = 0] = sites.at[entry.id - 1] ?? [];
      const name = sites.files[file];
      if (name !== undefined) moreOf(entry).captured = { site: { file: name, line, column } };
    }
    return { journal, passedAt, checks, unsteady };
  } catch {
    return undefined;
  }
}

type Header = Partial<Omit<LastPass, 'journal'>> & { readonly sites?: Sites };

/** The first line of a text that this version wrote. */
function headerOf(text: string): Header | undefined {
  try {
    const header = intrinsics.parse(text.slice(0, text.indexOf('\n'))) as Header & {
      readonly ekkon?: unknown;
      readonly version?: unknown;
    };
    return header.ekkon === 'last pass' && header.version === version ? header : undefined;
  } catch {
    return undefined;
  }
}
