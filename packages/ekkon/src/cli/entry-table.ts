import { getBorderCharacters, table } from 'table';
import { printCall } from '../notation/call.ts';
import type { LoadedEntry } from '../record/read-lines.ts';
import { clip } from '../report/layout.ts';
import { printSite } from '../report/places.ts';
import { printEnding } from '../report/summary-text.ts';
import { columns, paint } from './terminal.ts';

/**
 * A table of entries: number, ticks, call, how it ended, and where it was made.
 *
 * @param culprits the ids of those that are marked
 */
export function entryTable(
  entries: readonly LoadedEntry[],
  culprits: ReadonlySet<number> = new Set(),
): string {
  const rows = entries.map((entry) => ({
    id: `#${entry.id}${culprits.has(entry.id) ? ' ◂' : ''}`,
    ticks: `${entry.began}–${entry.ended ?? ''}`,
    call: `${indent(entry, entries)}${printCall(entry)}`,
    ended: printEnding(entry),
    site: printSite(entry.site),
    isMarked: culprits.has(entry.id),
  }));
  const fixed = widest(rows, 'id') + widest(rows, 'ticks') + widest(rows, 'site') + 8;
  const room = Math.max(40, columns() - fixed);
  const endedRoom = Math.min(widest(rows, 'ended'), Math.max(12, Math.floor(room / 3)));
  const callRoom = Math.min(widest(rows, 'call'), room - endedRoom);
  const cells = rows.map(({ id, ticks, call, ended, site }) => [
    id,
    ticks,
    clip(call, callRoom),
    clip(ended, endedRoom),
    site,
  ]);
  return table(cells, {
    border: getBorderCharacters('void'),
    drawHorizontalLine: () => false,
    columnDefault: { paddingLeft: 0, paddingRight: 2 },
  })
    .trimEnd()
    .split('\n')
    .map((line, at) => painted(line.trimEnd(), cells[at] ?? [], rows[at]?.isMarked === true))
    .join('\n');
}

/** A line of the table in colours: they are put in once it is laid out, since what lays it out would cut them. */
function painted(line: string, cells: readonly string[], isMarked: boolean): string {
  const mark = isMarked ? 'culprit' : undefined;
  const roles = [mark ?? 'faint', 'faint', mark, undefined, 'faint'] as const;
  let [at, text] = [0, ''];
  cells.forEach((cell, column) => {
    const start = line.indexOf(cell, at);
    const role = roles[column];
    text += line.slice(at, start) + (role === undefined ? cell : paint(role, cell));
    at = start + cell.length;
  });
  return text + line.slice(at);
}

/** Calls made during another one are set in below it. */
function indent(entry: LoadedEntry, entries: readonly LoadedEntry[]): string {
  let depth = 0;
  for (let parent = entry.parent; parent !== undefined && depth < 8; depth++) {
    parent = entries.find(({ id }) => id === parent)?.parent;
  }
  return '  '.repeat(depth);
}

function widest<K extends string>(
  rows: readonly { readonly [key in K]: string }[],
  key: K,
): number {
  return Math.max(0, ...rows.map((row) => row[key].length));
}
