import { printLine, printPath } from '../notation/value.ts';
import type { Difference } from '../value/difference.ts';
import { besideEachOther, indented, type Line, leftOut } from './block.ts';
import { opaqueBecause, printChange, sides } from './difference-words.ts';
import { clip, entryMargin, margin } from './layout.ts';
import { areLongTexts, textDifference } from './text-difference.ts';

/** The widest a column of paths gets; a longer path pushes its own line out. */
const pathColumn = 24;

/** Differences a line each, their paths in a column; long texts by the words or lines that differ. */
export function differenceLines(
  differences: readonly Difference[],
  most: number,
  width: number,
): readonly Line[] {
  const shown = differences.slice(0, most);
  const longest = Math.max(0, ...shown.map(({ path }) => printPath(path).length));
  const column = Math.min(pathColumn, longest);
  return [
    ...shown.flatMap((difference) => linesFor(difference, column, width)),
    ...leftOut(differences.length - shown.length, ['difference', 'differences']),
  ].map((line) => indented(line, entryMargin));
}

function linesFor(difference: Difference, column: number, width: number): readonly Line[] {
  const { kind, expected, received } = difference;
  const path = printPath(difference.path);
  const changes = textChanges(difference, width);
  if (changes !== undefined) return [path, ...changes.map((line) => indented(line, '  '))];
  const taken = margin.length + entryMargin.length + Math.max(column, path.length) + 24;
  const room = Math.max(24, Math.floor((width - taken) / 2));
  const print = (value: unknown) => clip(printLine(value, { items: 8, text: room }), room);
  const line = besideEachOther([
    path.padEnd(column),
    ...sides(difference, print(expected), print(received)),
  ]);
  if (kind !== 'opaque') return [line];
  return [line, `${' '.repeat(column)}   not known: ${opaqueBecause(difference)}`];
}

/** How two long texts differ, by words or lines; `undefined` for any other difference. */
export function textChanges(
  { kind, expected, received }: Difference,
  width: number,
): readonly Line[] | undefined {
  if (kind !== 'changed' || !areLongTexts(expected, received)) return undefined;
  return textDifference(expected, String(received), width - 36);
}

/** Where an argument reads otherwise now than when it was recorded. */
export function changeLines(changes: readonly Difference[]): readonly Line[] {
  const lines = changes.slice(0, changesShown).map((change) => printChange(change).join('   '));
  return [
    'changed after the call:',
    ...lines.map((line) => `  ${line}`),
    ...leftOut(changes.length - lines.length, ['change', 'changes']),
  ].map((line) => indented(line, entryMargin));
}

const changesShown = 4;
