import { printLine, printPath } from '../notation/value.ts';
import type { Difference } from '../value/difference.ts';
import { opaqueBecause, printChange, sides } from './difference-words.ts';
import { clip, entryMargin, type Layout, leftOut, margin } from './layout.ts';
import { areLongTexts, textDifference } from './text-difference.ts';

/** The widest a column of paths gets; a longer path pushes its own line out. */
const pathColumn = 24;

/** Differences a line each, their paths in a column; long texts by the words or lines that differ. */
export function differenceLines(
  differences: readonly Difference[],
  most: number,
  layout: Layout,
): readonly string[] {
  if (layout.picture !== undefined) return layout.picture.differences(differences);
  const shown = differences.slice(0, most);
  const longest = Math.max(0, ...shown.map(({ path }) => printPath(path).length));
  const column = Math.min(pathColumn, longest);
  return [
    ...shown.flatMap((difference) => linesFor(difference, column, layout)),
    ...leftOut(differences.length - shown.length, ['difference', 'differences'], layout),
  ].map((line) => `${entryMargin}${line}`);
}

function linesFor(difference: Difference, column: number, layout: Layout): readonly string[] {
  const { width, paint } = layout;
  const { kind, expected, received } = difference;
  const path = printPath(difference.path);
  const changes = textChanges(difference, layout);
  if (changes !== undefined) return [path, ...changes.map((line) => `  ${line}`)];
  const taken = margin.length + entryMargin.length + Math.max(column, path.length) + 24;
  const room = Math.max(24, Math.floor((width - taken) / 2));
  const print = (value: unknown) => clip(printLine(value, { items: 8, text: room }), room);
  const [one, other] = [paint('expected', print(expected)), paint('received', print(received))];
  const line = [path.padEnd(column), ...sides(difference, one, other)].join('   ');
  if (kind !== 'opaque') return [line];
  return [line, `${' '.repeat(column)}   not known: ${opaqueBecause(difference)}`];
}

/** How two long texts differ, by words or lines; `undefined` if that is not what the difference is. */
export function textChanges(
  { kind, expected, received }: Difference,
  { width, paint }: Layout,
): readonly string[] | undefined {
  if (kind !== 'changed' || !areLongTexts(expected, received)) return undefined;
  return textDifference(expected, String(received), { width: width - 36, paint });
}

/** Where an argument reads otherwise now than when it was recorded. */
export function changeLines(changes: readonly Difference[], layout: Layout): readonly string[] {
  if (changes.length === 0) return [];
  if (layout.picture !== undefined) return layout.picture.changes(changes);
  const lines = changes.slice(0, changesShown).map((change) => printChange(change).join('   '));
  return [
    'changed after the call:',
    ...lines.map((line) => `  ${line}`),
    ...leftOut(changes.length - lines.length, ['change', 'changes'], layout),
  ].map((line) => `${entryMargin}${line}`);
}

const changesShown = 4;
