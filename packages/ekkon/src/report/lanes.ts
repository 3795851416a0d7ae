import { printWithin } from '../notation/call.ts';
import type { Entry } from '../record/entry.ts';
import { escapeControls, inQuotes } from '../value/escape.ts';
import { faint, type Line, type Notes, piece } from './block.ts';
import { isAtOnce, type LaneRow, laneLayout, type MarkShown, type Span } from './lane-layout.ts';
import { clip } from './layout.ts';
import { narrow, printSiteBeside } from './places.ts';

/** How an event is found in the notes. */
export function noteKey(id: number, end: boolean): string {
  return `${id} ${end ? 'end' : 'begin'}`;
}

type Shown = Omit<Entry, 'liveArgs'>;
type Row = LaneRow<Shown>;

/** The note beside a row, if there is one. */
export function noteOn(row: Row, notes: Notes): string | undefined {
  if ('mark' in row) return undefined;
  const { entry, end } = row;
  return (
    notes.get(noteKey(entry.id, end)) ??
    (isAtOnce(entry) ? notes.get(noteKey(entry.id, true)) : undefined)
  );
}

/** The narrowest a lane may get, in columns. */
const narrowestLane = 18;

/**
 * Ekkon's picture of a record: one lane for each double, ticks downward. `■` is a call that ended before
 * anything else happened; `┬`, `│` and `┴` are a call's beginning, its time and its end.
 */
export function lanes(
  entries: readonly Shown[],
  notes: Notes,
  width: number,
  marks: readonly MarkShown[] = [],
): readonly Line[] {
  const { rows, doubles: names, spansIn } = laneLayout(entries, marks);
  const doubles = names.map(escapeControls);
  const cells = rows.map((row, at) => cellsOf(row, spansIn(at, at), doubles.length));
  const after = rows.map((row) => noteFor(row, notes, width));
  const widest = Math.max(0, ...after.map((note) => note.length));
  const [ids, ticks] = numberWidths(rows);
  const fixed = ids + ticks + 3;
  const natural = doubles.map(
    (double, lane) => Math.max(double.length, ...cells.map((row) => row[lane]?.length ?? 0)) + 2,
  );
  const narrowest = width < narrow ? narrowestLane / 2 : narrowestLane;
  const widths = fitted(natural, width - fixed - widest, narrowest);
  const line = (texts: readonly string[]) =>
    texts
      .map((text, lane) => clip(text, (widths[lane] ?? 0) - 1).padEnd(widths[lane] ?? 0))
      .join('');
  return [
    [faint(`${'tick'.padStart(ids + ticks)}  ${line(doubles)}`.trimEnd())],
    ...rows.map((row, at): Line => {
      const note = after[at] ?? '';
      const tick = String(row.tick).padStart(ticks);
      if ('mark' in row) return [faint(`${''.padEnd(ids)}${tick}  ${printMark(row.mark)}`)];
      const text = `${`#${row.entry.id}`.padEnd(ids)}${tick}  ${line(cells[at] ?? [])}`;
      return note === '' ? text.trimEnd() : [text, piece('culprit', note)];
    }),
  ];
}

/** The columns of an entry's number and of a tick: more than usual in a long record. */
function numberWidths(rows: readonly Row[]): readonly [number, number] {
  const digits = (numbers: readonly number[]) => String(Math.max(0, ...numbers)).length;
  const ids = digits(rows.map((row) => ('mark' in row ? 0 : row.entry.id)));
  return [Math.max(5, ids + 2), Math.max(6, digits(rows.map(({ tick }) => tick)) + 1)];
}

/** Takes room from the widest lanes until all of them fit. */
function fitted(natural: readonly number[], room: number, narrowest: number): readonly number[] {
  const widths = [...natural];
  let over = widths.reduce((sum, width) => sum + width, 0) - room;
  while (over > 0) {
    const widest = widths.indexOf(Math.max(...widths));
    if ((widths[widest] ?? 0) <= narrowest) break;
    widths[widest] = (widths[widest] ?? 0) - 1;
    over--;
  }
  return widths;
}

/** A mark in words, across all lanes. */
export function printMark({ label }: MarkShown): string {
  return `── mark${label === undefined ? '' : ` ${inQuotes(label)}`} ──`;
}

/** The content of the lanes in a row: the event itself, and the calls under way. */
function cellsOf(row: Row, spans: readonly Span[], lanes: number): readonly string[] {
  if ('mark' in row) return [];
  const cells = Array.from({ length: lanes }, (_, lane) => {
    const bars: string[] = [];
    for (const span of spans)
      if (span.lane === lane && span.id !== row.entry.id) bars[span.column] = '│';
    return bars;
  });
  const { entry, end, lane, column } = row;
  const own = cells[lane] ?? [];
  own[column] = end ? '┴' : isAtOnce(entry) ? '■' : '┬';
  return cells.map((bars, at) => {
    const drawn = Array.from(bars, (bar) => bar ?? ' ').join('');
    return at === lane ? `${drawn} ${end ? entry.outcome.state : printWithin(entry)}` : drawn;
  });
}

function noteFor(row: Row, notes: Notes, width: number): string {
  const note = noteOn(row, notes);
  if (note === undefined || 'mark' in row) return '';
  const { entry, end } = row;
  const site = printSiteBeside(entry.site, width);
  return ` ◂ ${note}${site === '' || end ? '' : `, ${site}`}`;
}
