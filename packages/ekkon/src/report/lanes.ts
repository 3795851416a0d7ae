import { printWithin } from '../notation/call.ts';
import type { Entry } from '../record/entry.ts';
import { clip, type Layout } from './layout.ts';
import { printSite } from './places.ts';

/** Why an event is marked at the side of the picture. */
export type Notes = ReadonlyMap<string, string>;

/** How an event is found in the notes. */
export function noteKey(id: number, end: boolean): string {
  return `${id} ${end ? 'end' : 'begin'}`;
}

interface Row {
  readonly entry: Entry;
  readonly tick: number;
  readonly end: boolean;
}

/** The narrowest a lane may get, in columns. */
const narrowestLane = 18;

/**
 * Ekkon's picture of a record: one lane for each double, ticks downward. `■` is a call that ended before
 * anything else happened; `┬`, `│` and `┴` are a call's beginning, its time and its end.
 */
export function lanes(entries: readonly Entry[], notes: Notes, layout: Layout): readonly string[] {
  const rows = rowsOf(entries);
  const doubles = [...new Set(entries.map(({ double }) => double))];
  const cells = rows.map((row, at) => doubles.map((double) => cellFor(row, at, rows, double)));
  const after = rows.map((row) => noteFor(row, notes));
  const widest = Math.max(0, ...after.map((note) => note.length));
  const fixed = 14;
  const natural = doubles.map(
    (double, lane) => Math.max(double.length, ...cells.map((row) => row[lane]?.length ?? 0)) + 2,
  );
  const widths = fitted(natural, layout.width - fixed - widest);
  const line = (texts: readonly string[]) =>
    texts
      .map((text, lane) => clip(text, (widths[lane] ?? 0) - 1).padEnd(widths[lane] ?? 0))
      .join('');
  return [
    layout.paint('faint', `${'tick'.padStart(11)}  ${line(doubles)}`.trimEnd()),
    ...rows.map((row, at) => {
      const note = after[at] ?? '';
      const text = `${`#${row.entry.id}`.padEnd(5)}${String(row.tick).padStart(6)}  ${line(cells[at] ?? [])}`;
      return `${note === '' ? text.trimEnd() : text}${layout.paint('culprit', note)}`;
    }),
  ];
}

/** Takes room from the widest lanes until all of them fit. */
function fitted(natural: readonly number[], room: number): readonly number[] {
  const widths = [...natural];
  let over = widths.reduce((sum, width) => sum + width, 0) - room;
  while (over > 0) {
    const widest = widths.indexOf(Math.max(...widths));
    if ((widths[widest] ?? 0) <= narrowestLane) break;
    widths[widest] = (widths[widest] ?? 0) - 1;
    over--;
  }
  return widths;
}

/** Beginnings and ends in order; the end of a call that ended at once has no row of its own. */
function rowsOf(entries: readonly Entry[]): readonly Row[] {
  const rows = entries.flatMap((entry) => {
    const begin: Row = { entry, tick: entry.began, end: false };
    return entry.ended === undefined || isAtOnce(entry)
      ? [begin]
      : [begin, { entry, tick: entry.ended, end: true }];
  });
  return rows.sort((one, other) => one.tick - other.tick);
}

function isAtOnce({ began, ended }: Entry): boolean {
  return ended === began + 1;
}

/** What a lane shows in a row: the event itself, or the calls that are under way. */
function cellFor(row: Row, at: number, rows: readonly Row[], double: string): string {
  const open = rows
    .slice(0, at)
    .filter(({ entry, end }) => !end && entry.double === double && !isAtOnce(entry))
    .map(({ entry }) => entry)
    .filter(({ ended }) => ended === undefined || ended >= row.tick);
  const isHere = row.entry.double === double;
  const bars = open
    .map((entry) => (isHere && row.end && entry.id === row.entry.id ? '┴' : '│'))
    .join('');
  if (!isHere) return bars;
  if (row.end) return `${bars} ${row.entry.outcome.state}`;
  return `${bars}${isAtOnce(row.entry) ? '■' : '┬'} ${printWithin(row.entry)}`;
}

function noteFor({ entry, end }: Row, notes: Notes): string {
  const note =
    notes.get(noteKey(entry.id, end)) ??
    (isAtOnce(entry) ? notes.get(noteKey(entry.id, true)) : undefined);
  if (note === undefined) return '';
  const site = printSite(entry.site);
  return ` ◂ ${note}${site === '' || end ? '' : `, ${site}`}`;
}
