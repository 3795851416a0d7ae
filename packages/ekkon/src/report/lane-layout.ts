import type { EntryKind } from '../record/entry.ts';

/** The parts of an entry that the layout needs. */
export interface Laned {
  readonly id: number;
  readonly kind: EntryKind;
  readonly double: string;
  readonly began: number;
  readonly ended: number | undefined;
}

/** The parts of a mark that the layout needs. */
export interface MarkShown {
  readonly tick: number;
  readonly label: string | undefined;
}

/** One row of the picture: an entry's beginning, its end if something happened in between, or a mark. */
export type LaneRow<E extends Laned> =
  | {
      readonly tick: number;
      readonly entry: E;
      /** Whether this is the entry's end, of one that has a row for its beginning too. */
      readonly end: boolean;
      /** The lane of its double, from 0. */
      readonly lane: number;
      /** How far in the lane it is drawn to the right: one more for each call of the double that is under way. */
      readonly column: number;
    }
  | { readonly tick: number; readonly mark: MarkShown };

/** The time of an entry that did not end at once: from row to row, `undefined` if it has no end. */
export interface Span {
  readonly id: number;
  readonly lane: number;
  readonly column: number;
  readonly from: number;
  readonly to: number | undefined;
}

/** Where everything in the picture of a record stands: rows from above, lanes from the left. */
export interface LaneLayout<E extends Laned> {
  readonly doubles: readonly string[];
  readonly rows: readonly LaneRow<E>[];
  /** How many columns each lane has. */
  readonly columns: readonly number[];
  /** The spans that are under way in any of these rows. */
  spansIn(first: number, last: number): readonly Span[];
  /** The row of an entry's beginning or end; of its only one if it ended at once. */
  rowOf(id: number, end: boolean): number | undefined;
}

/** Calls of one double under way at one time that have a column of their own; more are drawn without their span. */
const columnsMost = 12;

/** Rows from one list of the spans that are under way to the next. */
const blockRows = 256;

/**
 * Lays out the picture of a record: lanes for doubles, in the order in which they come first, and rows for events in
 * the order of their ticks. A call has its beginning, its time and its end; one that ended before anything else
 * happened has one row.
 */
export function laneLayout<E extends Laned>(
  entries: readonly E[],
  marks: readonly MarkShown[] = [],
): LaneLayout<E> {
  const lanes = new Map<string, boolean[]>();
  for (const { double } of entries) if (!lanes.has(double)) lanes.set(double, []);
  const laneOf = new Map([...lanes.keys()].map((double, lane) => [double, lane]));
  const columns = [...lanes.keys()].map(() => 1);
  const rows: LaneRow<E>[] = [];
  const spans: { -readonly [K in keyof Span]: Span[K] }[] = [];
  const spanOf = new Map<number, (typeof spans)[number]>();
  for (const event of eventsOf(entries, marks)) {
    if ('mark' in event) {
      rows.push(event);
      continue;
    }
    const { entry, tick, end } = event;
    const lane = laneOf.get(entry.double) ?? 0;
    const taken = lanes.get(entry.double) ?? [];
    if (end) {
      const span = spanOf.get(entry.id);
      if (span !== undefined) span.to = rows.length;
      const column = span?.column ?? columnsMost;
      taken[column] = false;
      rows.push({ tick, entry, end, lane, column });
      continue;
    }
    const free = taken.indexOf(false);
    const column = Math.min(free < 0 ? taken.length : free, columnsMost);
    columns[lane] = Math.max(columns[lane] ?? 1, column + 1);
    if (!isAtOnce(entry) && column < columnsMost) {
      taken[column] = true;
      const span = { id: entry.id, lane, column, from: rows.length, to: undefined };
      spanOf.set(entry.id, span);
      spans.push(span);
    }
    rows.push({ tick, entry, end, lane, column });
  }
  return { doubles: [...lanes.keys()], rows, columns, ...findersIn(rows, spans) };
}

/** Whether an entry ended before anything else happened. */
export function isAtOnce({ began, ended }: Pick<Laned, 'began' | 'ended'>): boolean {
  return ended === began + 1;
}

type Event<E> =
  | { readonly tick: number; readonly entry: E; readonly end: boolean }
  | { readonly tick: number; readonly mark: MarkShown };

function eventsOf<E extends Laned>(
  entries: readonly E[],
  marks: readonly MarkShown[],
): readonly Event<E>[] {
  const events: Event<E>[] = marks.map((mark) => ({ tick: mark.tick, mark }));
  for (const entry of entries) {
    events.push({ tick: entry.began, entry, end: false });
    if (entry.ended !== undefined && !isAtOnce(entry))
      events.push({ tick: entry.ended, entry, end: true });
  }
  return events.sort((one, other) => one.tick - other.tick);
}

/** Finds spans and rows, in a time that does not grow with the record. */
function findersIn<E extends Laned>(
  rows: readonly LaneRow<E>[],
  spans: readonly Span[],
): Pick<LaneLayout<E>, 'spansIn' | 'rowOf'> {
  const blocks: Span[][] = [];
  for (const span of spans) {
    const last = Math.floor((span.to ?? rows.length) / blockRows);
    for (let at = Math.floor(span.from / blockRows); at <= last; at++) {
      blocks[at] ??= [];
      blocks[at]?.push(span);
    }
  }
  let places: Map<number, [begin: number, end: number]> | undefined;
  return {
    spansIn(first, last) {
      const found = new Set<Span>();
      for (let at = Math.floor(first / blockRows); at <= Math.floor(last / blockRows); at++)
        for (const span of blocks[at] ?? [])
          if (span.from <= last && (span.to ?? rows.length) >= first) found.add(span);
      return [...found];
    },
    rowOf(id, end) {
      places ??= placesIn(rows);
      return places.get(id)?.[end ? 1 : 0];
    },
  };
}

function placesIn<E extends Laned>(
  rows: readonly LaneRow<E>[],
): Map<number, [begin: number, end: number]> {
  const places = new Map<number, [begin: number, end: number]>();
  rows.forEach((row, at) => {
    if ('mark' in row) return;
    const known = places.get(row.entry.id);
    if (known === undefined) places.set(row.entry.id, [at, at]);
    else known[1] = at;
  });
  return places;
}
