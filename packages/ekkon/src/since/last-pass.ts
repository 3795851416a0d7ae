import { shortValue } from '../notation/value.ts';
import { fileFrom } from '../record/call-site.ts';
import type { Journal } from '../record/journal.ts';
import { toLines } from '../record/lines.ts';
import { fromLines } from '../record/read-lines.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { type Learned, learn, nothingUnsteady, type Unsteady } from './unsteady.ts';

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

/**
 * The text that a store keeps of a run that passed: a line about it, then its record as a ledger file has it, without
 * wall times.
 *
 * @param known the text of the passing run before, if there is one: what differs from it is marked as unsteady
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
  const unsteady = known === undefined ? nothingUnsteady : unsteadyAfter(known, lines);
  const header = { ekkon: 'last pass', version, ...about, unsteady };
  return `${intrinsics.stringify(header)}\n${lines}`;
}

function unsteadyAfter(known: string, lines: string): Unsteady {
  const before = readLastPass(known);
  if (before === undefined) return nothingUnsteady;
  const isSame = known.slice(known.indexOf('\n') + 1) === lines;
  return isSame ? before.unsteady : learn(before, fromLines(lines).journal);
}

/** A record that was read from a ledger file, as that of a run that passed. */
export function asRecordOf(journal: Journal): LastPass {
  return { journal, passedAt: journal.openedAt, checks: [], unsteady: nothingUnsteady };
}

/** A record as it is read back: so that what is compared was written and read on both sides. */
export function asRead(journal: Journal): Journal {
  return fromLines(linesIn(journal)).journal;
}

function linesIn(journal: Journal): string {
  const folder = intrinsics.cwd?.() ?? '';
  const fileOf = (file: string) => fileFrom(folder, file);
  return toLines(journal, { show: shortValue, fileOf, timeless: true }).join('\n');
}

/** Reads a text that `writeLastPass` made; `undefined` if it is of another version, or damaged. */
export function readLastPass(text: string): LastPass | undefined {
  const end = text.indexOf('\n');
  try {
    const header = intrinsics.parse(text.slice(0, end)) as Partial<LastPass> & {
      readonly ekkon?: unknown;
      readonly version?: unknown;
    };
    if (header.ekkon !== 'last pass' || header.version !== version) return undefined;
    const { journal, truncated } = fromLines(text.slice(end + 1));
    if (truncated) return undefined;
    const { passedAt = 0, checks = [], unsteady = nothingUnsteady } = header;
    return { journal, passedAt, checks, unsteady };
  } catch {
    return undefined;
  }
}
