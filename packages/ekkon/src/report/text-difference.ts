import { diffLines, diffWordsWithSpace } from 'diff';
import { intrinsics } from '../value/intrinsics.ts';
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
 * Where two long texts differ, in lines of a report: the changed lines if the texts have several,
 * else the changed words with what stands around them. `undefined` if hardly anything is shared, so
 * that it would take long and tell little.
 */
export function textDifference(
  expected: string,
  received: string,
  width: number,
): readonly string[] | undefined {
  const byLine = expected.includes('\n') || received.includes('\n');
  const changes = byLine ? changedLines(expected, received) : changedWords(expected, received);
  if (changes === undefined) return undefined;
  const shown = changes
    .slice(0, changesShown)
    .flatMap(({ line, expected: one, received: other }) => {
      const place = byLine ? `line ${line}`.padEnd(10) : '';
      return [
        `${place}expected   ${clip(intrinsics.stringify(one), width)}`,
        `${' '.repeat(place.length)}received   ${clip(intrinsics.stringify(other), width)}`,
      ];
    });
  const rest = changes.length - changesShown;
  return rest > 0 ? [...shown, `… ${rest} more ${rest === 1 ? 'place' : 'places'}`] : shown;
}

interface Gathered {
  readonly before: string;
  gone: string;
  come: string;
  after: string;
}

type Part = { readonly value: string; readonly added: boolean; readonly removed: boolean };

function changedLines(expected: string, received: string): readonly TextChange[] | undefined {
  const parts = diffLines(expected, received, { maxEditLength: editsAtMost });
  return gather(parts)?.map(({ before, gone, come }) => ({
    line: before.split('\n').length,
    expected: gone.replace(/\n$/, ''),
    received: come.replace(/\n$/, ''),
  }));
}

function changedWords(expected: string, received: string): readonly TextChange[] | undefined {
  const parts = diffWordsWithSpace(expected, received, { maxEditLength: editsAtMost });
  return gather(parts)?.map(({ before, gone, come, after }) => {
    const [start, end] = [lastPart(before), firstPart(after)];
    return { line: 1, expected: start + gone + end, received: start + come + end };
  });
}

function lastPart(text: string): string {
  return text.length <= aroundChange ? text : `…${text.slice(-aroundChange)}`;
}

function firstPart(text: string): string {
  return text.length <= aroundChange ? text : `${text.slice(0, aroundChange)}…`;
}

/** What is gone and what has come at each place, with what both texts share before and after it. */
function gather(parts: readonly Part[] | undefined): readonly Gathered[] | undefined {
  if (parts === undefined) return undefined;
  const changes: Gathered[] = [];
  let before = '';
  let open: Gathered | undefined;
  for (const { value, added, removed } of parts) {
    if (!added && !removed) {
      if (open !== undefined) open.after = value;
      open = undefined;
      before += value;
      continue;
    }
    if (open === undefined) {
      open = { before, gone: '', come: '', after: '' };
      changes.push(open);
    }
    if (removed) {
      open.gone += value;
      before += value;
    } else {
      open.come += value;
    }
  }
  return changes;
}
