import { diffLines, diffWordsWithSpace } from 'diff';
import { intrinsics } from '../value/intrinsics.ts';
import { type Line, piece } from './block.ts';
import { clip } from './layout.ts';

/** From how many characters on two texts are compared by word or line, not shown whole. */
const longFrom = 60;

/** Words or lines around a change, and changes, that are shown before the rest is counted. */
const aroundChange = 24;
const changesShown = 4;

/** Words or lines left out and put in, before two texts count as having nothing to do with each other. */
const editsAtMost = 500;

/** Longer texts are not compared: the work would grow with the product of their differences. */
const comparedAtMost = 200_000;

/** One place where two texts differ. */
interface TextChange {
  /** The line it begins in, of the expected text, from 1. */
  readonly line: number;
  readonly expected: string;
  readonly received: string;
}

/** Whether two values are texts too long to be read side by side. */
export function areLongTexts(expected: unknown, received: unknown): expected is string {
  if (typeof expected !== 'string' || typeof received !== 'string') return false;
  const longest = Math.max(expected.length, received.length);
  return longest > longFrom && longest <= comparedAtMost;
}

/**
 * Where two long texts differ, in lines of a report: the changed lines if the texts have several, otherwise the
 * changed words with the words around them. `undefined` if the texts share hardly anything, because the result would
 * take long and say little.
 */
export function textDifference(
  expected: string,
  received: string,
  width: number,
): readonly Line[] | undefined {
  const byLine = expected.includes('\n') || received.includes('\n');
  const changes = byLine ? changedLines(expected, received) : changedWords(expected, received);
  if (changes === undefined) return undefined;
  const shown = changes
    .slice(0, changesShown)
    .flatMap(({ line, expected: one, received: other }): readonly Line[] => {
      const place = byLine ? `line ${line}`.padEnd(10) : '';
      return [
        [`${place}expected   `, piece('expected', clip(intrinsics.stringify(one), width))],
        [
          `${' '.repeat(place.length)}received   `,
          piece('received', clip(intrinsics.stringify(other), width)),
        ],
      ];
    });
  const rest = changes.length - changesShown;
  return rest > 0 ? [...shown, `… ${rest} more ${rest === 1 ? 'place' : 'places'}`] : shown;
}

interface Gathered {
  /** The text before it in each of the two. */
  readonly before: { readonly expected: string; readonly received: string };
  gone: string;
  come: string;
  after: string;
}

type Part = { readonly value: string; readonly added: boolean; readonly removed: boolean };

function changedLines(expected: string, received: string): readonly TextChange[] | undefined {
  const parts = diffLines(expected, received, { maxEditLength: editsAtMost });
  return gather(parts, 0)?.map(({ before, gone, come }) => ({
    line: before.expected.split('\n').length,
    expected: gone.replace(/\n$/, ''),
    received: come.replace(/\n$/, ''),
  }));
}

function changedWords(expected: string, received: string): readonly TextChange[] | undefined {
  const parts = diffWordsWithSpace(expected, received, { maxEditLength: editsAtMost });
  return gather(parts, sharedLeast)?.map(({ before, gone, come, after }) => ({
    line: 1,
    expected: lastPart(before.expected) + gone + firstPart(after),
    received: lastPart(before.received) + come + firstPart(after),
  }));
}

function lastPart(text: string): string {
  return text.length <= aroundChange ? text : `…${text.slice(-aroundChange)}`;
}

function firstPart(text: string): string {
  return text.length <= aroundChange ? text : `${text.slice(0, aroundChange)}…`;
}

/** Two places with less between them are one. */
const sharedLeast = 12;

/**
 * The removed and the added text at each place, with the text before it and the shared text after it.
 *
 * @param least places with fewer characters between them are one
 */
function gather(
  parts: readonly Part[] | undefined,
  least: number,
): readonly Gathered[] | undefined {
  if (parts === undefined) return undefined;
  const changes: Gathered[] = [];
  let [expected, received] = ['', ''];
  let open: Gathered | undefined;
  parts.forEach(({ value, added, removed }, at) => {
    if (added || removed) {
      if (open === undefined) {
        open = { before: { expected, received }, gone: '', come: '', after: '' };
        changes.push(open);
      }
    } else if (open !== undefined && (value.length >= least || at === parts.length - 1)) {
      open.after = value;
      open = undefined;
    }
    if (!added) expected += value;
    if (!removed) received += value;
    if (open === undefined) return;
    if (!added) open.gone += value;
    if (!removed) open.come += value;
  });
  return changes;
}
