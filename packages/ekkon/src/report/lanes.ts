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

/** An event in the picture: an entry's beginning, or its end if something happened in between. */
interface Row {
  readonly entry: Shown;
  readonly tick: number;
  readonly end: boolean;
  /** The lane of its double, from 0. */
  readonly lane: number;
  /** For each lane the entries that are under way before this row, the one that ends here included. */
  readonly open: readonly (readonly Shown[])[];
}

type Shown = Omit<Entry, 'liveArgs'>;

/** What is drawn: the rows from above, and the lanes from the left. */
export interface LaneRows {
  readonly rows: readonly Row[];
  readonly doubles: readonly string[];
}

/** Beginnings and ends in order, with what is under way; a call that ended at once has one row. */
export function laneRows(entries: readonly Shown[]): LaneRows {
  const doubles = [...new Set(entries.map(({ double }) => double))];
  const laneOf = new Map(doubles.map((double, lane) => [double, lane]));
  const open: Shown[][] = doubles.map(() => []);
  const rows = eventsOf(entries).map(({ entry, tick, end }): Row => {
    const lane = laneOf.get(entry.double) ?? 0;
    const row = { entry, tick, end, lane, open: open.map((each) => [...each]) };
    const here = open[lane] ?? [];
    if (end) here.splice(here.indexOf(entry), 1);
    else if (!isAtOnce(entry)) here.push(entry);
    return row;
  });
  return { rows, doubles };
}

/** The narrowest a lane may get, in columns. */
const narrowestLane = 18;

/**
 * Ekkon's picture of a record: one lane for each double, ticks downward. `■` is a call that ended before
 * anything else happened; `┬`, `│` and `┴` are a call's beginning, its time and its end.
 */
export function lanes(entries: readonly Shown[], notes: Notes, layout: Layout): readonly string[] {
  const { rows, doubles } = laneRows(entries);
  const cells = rows.map((row) => doubles.map((_, lane) => cellFor(row, lane)));
  const after = rows.map((row) => noteFor(row, notes));
  const widest = Math.max(0, ...after.map((note) => note.length));
  const [ids, ticks] = numberWidths(rows);
  const fixed = ids + ticks + 3;
  const natural = doubles.map(
    (double, lane) => Math.max(double.length, ...cells.map((row) => row[lane]?.length ?? 0)) + 2,
  );
  const widths = fitted(natural, layout.width - fixed - widest);
  const line = (texts: readonly string[]) =>
    texts
      .map((text, lane) => clip(text, (widths[lane] ?? 0) - 1).padEnd(widths[lane] ?? 0))
      .join('');
  return [
    layout.paint('faint', `${'tick'.padStart(ids + ticks)}  ${line(doubles)}`.trimEnd()),
    ...rows.map((row, at) => {
      const note = after[at] ?? '';
      const text = `${`#${row.entry.id}`.padEnd(ids)}${String(row.tick).padStart(ticks)}  ${line(cells[at] ?? [])}`;
      return `${note === '' ? text.trimEnd() : text}${layout.paint('culprit', note)}`;
    }),
  ];
}

/** The columns of an entry's number and of a tick: more than usual in a long record. */
function numberWidths(rows: readonly Row[]): readonly [number, number] {
  const digits = (numbers: readonly number[]) => String(Math.max(0, ...numbers)).length;
  const ids = digits(rows.map(({ entry }) => entry.id));
  return [Math.max(5, ids + 2), Math.max(6, digits(rows.map(({ tick }) => tick)) + 1)];
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

function eventsOf(
  entries: readonly Shown[],
): readonly { readonly entry: Shown; readonly tick: number; readonly end: boolean }[] {
  const events = entries.flatMap((entry) => {
    const begin = { entry, tick: entry.began, end: false };
    return entry.ended === undefined || isAtOnce(entry)
      ? [begin]
      : [begin, { entry, tick: entry.ended, end: true }];
  });
  return events.sort((one, other) => one.tick - other.tick);
}

export function isAtOnce({ began, ended }: Pick<Entry, 'began' | 'ended'>): boolean {
  return ended === began + 1;
}

/** What a lane shows in a row: the event itself, or the calls that are under way. */
function cellFor(row: Row, lane: number): string {
  const { entry, end } = row;
  const isHere = row.lane === lane;
  const bars = (row.open[lane] ?? [])
    .map((each) => (isHere && end && each === entry ? '┴' : '│'))
    .join('');
  if (!isHere) return bars;
  if (end) return `${bars} ${entry.outcome.state}`;
  return `${bars}${isAtOnce(entry) ? '■' : '┬'} ${printWithin(entry)}`;
}

function noteFor({ entry, end }: Row, notes: Notes): string {
  const note =
    notes.get(noteKey(entry.id, end)) ??
    (isAtOnce(entry) ? notes.get(noteKey(entry.id, true)) : undefined);
  if (note === undefined) return '';
  const site = printSite(entry.site);
  return ` ◂ ${note}${site === '' || end ? '' : `, ${site}`}`;
}
