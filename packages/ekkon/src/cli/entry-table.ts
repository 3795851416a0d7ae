import stringWidth from 'string-width';
import { printCall } from '../notation/call.ts';
import type { LoadedEntry } from '../record/read-lines.ts';
import type { MarkShown } from '../report/lane-layout.ts';
import { printMark } from '../report/lanes.ts';
import { clip } from '../report/layout.ts';
import { printSiteBeside } from '../report/places.ts';
import { printEnding } from '../report/summary-text.ts';
import { columns, paint } from './terminal.ts';

/** An entry of a record, or a mark. */
export type TableItem = LoadedEntry | MarkShown;

/**
 * A table of entries: number, ticks, call, how it ended, and where it was made.
 *
 * @param culprits the ids of those that are marked
 * @param depthOf how deep each is set in
 */
export function entryTable(
  items: readonly TableItem[],
  culprits: ReadonlySet<number> = new Set(),
  depthOf: (entry: LoadedEntry) => number = depths(),
): string {
  const rows = items.map((item) => rowOf(item, culprits, depthOf));
  const fixed = widest(rows, 'id') + widest(rows, 'ticks') + widest(rows, 'site') + 8;
  const room = Math.max(24, columns() - fixed);
  const endedRoom = Math.min(widest(rows, 'ended'), Math.max(12, Math.floor(room / 3)));
  const callRoom = Math.min(widest(rows, 'call'), room - endedRoom);
  const shown = rows.map((row) => ({
    ...row,
    call: clip(row.call, callRoom),
    ended: clip(row.ended, endedRoom),
  }));
  const widths = keys.map((key) => widest(shown, key));
  return shown.map((row) => lineOf(row, widths)).join('\n');
}

const keys = ['id', 'ticks', 'call', 'ended', 'site'] as const;

/** Tells how deep entries are set in, in the order in which they began: a call made during another one below it. */
export function depths(): (entry: LoadedEntry) => number {
  const known = new Map<number, number>();
  return ({ id, parent }) => {
    if (parent === undefined) return 0;
    const depth = Math.min(deepest, (known.get(parent) ?? 0) + 1);
    known.set(id, depth);
    return depth;
  };
}

const deepest = 8;

interface Row {
  readonly id: string;
  readonly ticks: string;
  readonly call: string;
  readonly ended: string;
  readonly site: string;
  readonly isMarked: boolean;
}

function rowOf(
  item: TableItem,
  culprits: ReadonlySet<number>,
  depthOf: (entry: LoadedEntry) => number,
): Row {
  if (!('id' in item)) {
    const [ticks, call] = [String(item.tick), printMark(item)];
    return { id: '', ticks, call, ended: '', site: '', isMarked: false };
  }
  const isMarked = culprits.has(item.id);
  return {
    id: `#${item.id}${isMarked ? ' ◂' : ''}`,
    ticks: `${item.began}–${item.ended ?? ''}`,
    call: `${'  '.repeat(depthOf(item))}${printCall(item)}`,
    ended: printEnding(item),
    site: printSiteBeside(item.site, columns()),
    isMarked,
  };
}

function lineOf(row: Row, widths: readonly number[]): string {
  const mark = row.isMarked ? 'culprit' : undefined;
  const roles = [mark ?? 'faint', 'faint', mark, undefined, 'faint'] as const;
  const last = keys.findLastIndex((key) => row[key] !== '');
  const cells = keys.slice(0, last + 1).map((key, at) => {
    const [text, role] = [row[key], roles[at]];
    const rest = at === last ? 0 : (widths[at] ?? 0) - columnsOf(text);
    return `${role === undefined ? text : paint(role, text)}${' '.repeat(rest)}`;
  });
  return cells.join('  ');
}

function widest(rows: readonly Row[], key: (typeof keys)[number]): number {
  return rows.reduce((most, row) => Math.max(most, columnsOf(row[key])), 0);
}

/** How many columns a text takes in a terminal: of most texts, as many as it has characters. */
function columnsOf(text: string): number {
  return /^[\x20-\x7e–…◂]*$/.test(text) ? text.length : stringWidth(text);
}
