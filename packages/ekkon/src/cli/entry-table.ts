import { getBorderCharacters, table } from 'table';
import { printCall } from '../notation/call.ts';
import type { LoadedEntry } from '../record/read-lines.ts';
import { clip } from '../report/layout.ts';
import { printSite } from '../report/places.ts';
import { printEnding } from '../report/summary-text.ts';
import { columns, paint } from './terminal.ts';

/** A table of entries: number, ticks, call, how it ended, and where it was made. */
export function entryTable(entries: readonly LoadedEntry[]): string {
  const rows = entries.map((entry) => ({
    id: `#${entry.id}`,
    ticks: `${entry.began}–${entry.ended ?? ''}`,
    call: `${indent(entry, entries)}${printCall(entry)}`,
    ended: printEnding(entry),
    site: printSite(entry.site),
  }));
  const fixed = widest(rows, 'id') + widest(rows, 'ticks') + widest(rows, 'site') + 8;
  const room = Math.max(40, columns() - fixed);
  const endedRoom = Math.min(widest(rows, 'ended'), Math.max(12, Math.floor(room / 3)));
  const callRoom = Math.min(widest(rows, 'call'), room - endedRoom);
  const cells = rows.map(({ id, ticks, call, ended, site }) => [
    paint('faint', id),
    paint('faint', ticks),
    clip(call, callRoom),
    clip(ended, endedRoom),
    paint('faint', site),
  ]);
  return table(cells, {
    border: getBorderCharacters('void'),
    drawHorizontalLine: () => false,
    columnDefault: { paddingLeft: 0, paddingRight: 2 },
  })
    .split('\n')
    .map((line) => line.trimEnd())
    .join('\n')
    .trimEnd();
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
