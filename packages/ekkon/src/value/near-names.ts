import { hiddenDifference } from './look-alike.ts';

/** How many letters of names may be compared before a search ends: a few milliseconds at most. */
const lettersCompared = 60_000;

/** The rest of one search, or of several that belong together. */
export interface NameSearch {
  letters: number;
}

export function startNameSearch(): NameSearch {
  return { letters: lettersCompared };
}

/**
 * The names that are likely meant by another one, the nearest first: equal but for case and separators, or with at
 * most a third of their letters edited (at least one, at most three).
 */
export function nearNames(
  given: string,
  names: Iterable<string>,
  search: NameSearch = startNameSearch(),
): readonly string[] {
  const found: { readonly name: string; readonly edits: number }[] = [];
  for (const name of names) {
    const edits = editsBetween(given, name, search);
    if (edits !== undefined) found.push({ name, edits });
    if (search.letters <= 0) break;
  }
  return found.toSorted((one, other) => one.edits - other.edits).map(({ name }) => name);
}

/** Asks whether a name was meant by another one, and says where they part if nobody could see it. */
export function didYouMean(near: string, given: string): string {
  const hidden = hiddenDifference(near, given);
  return hidden === undefined
    ? `did you mean ${near}?`
    : `it looks like ${near}, but has ${hidden}`;
}

function editsBetween(one: string, other: string, search: NameSearch): number | undefined {
  if (hiddenDifference(other, one) !== undefined) return 0;
  const longest = Math.max(one.length, other.length);
  // Separators may be left out, but hardly more of them than letters.
  if (longest > 2 * Math.min(one.length, other.length) + mostEdits) return undefined;
  const [left, right] = [bare(one), bare(other)];
  if (left === right) return 0;
  const allowed = Math.min(mostEdits, Math.max(1, Math.floor(longest / 3)));
  if (Math.min(left.length, right.length) < 2) return undefined;
  if (Math.abs(left.length - right.length) > allowed) return undefined;
  search.letters -= left.length;
  if (search.letters < 0) return undefined;
  const edits = editDistance(left, right, allowed);
  return edits > allowed ? undefined : edits;
}

const mostEdits = 3;

function bare(name: string): string {
  return name.toLowerCase().replace(/[-_\s]/g, '');
}

/**
 * How many letters must be added, left out, changed or swapped with their neighbour to get from one text
 * to the other: the restricted Damerau-Levenshtein distance, by the usual table of prefixes. Of that only the band
 * around the diagonal is filled in which at most `most` edits lead (Ukkonen, 1985).
 *
 * @returns `most + 1` if it is more than `most`
 */
export function editDistance(one: string, other: string, most: number): number {
  if (Math.abs(one.length - other.length) > most) return most + 1;
  let beforeLast: number[] = [];
  let last = Array.from({ length: 2 * most + 1 }, (_, place) =>
    place < most ? far : place - most,
  );
  for (let row = 1; row <= one.length; row++) {
    const current: number[] = [];
    // A place in the band stands for the column `row + place - most`.
    for (let place = 0; place <= 2 * most; place++) {
      const column = row + place - most;
      if (column < 0 || column > other.length) {
        current.push(far);
        continue;
      }
      if (column === 0) {
        current.push(row);
        continue;
      }
      const same = one[row - 1] === other[column - 1];
      let best = Math.min(
        at(last, place + 1) + 1,
        at(current, place - 1) + 1,
        at(last, place) + (same ? 0 : 1),
      );
      const swapped = one[row - 1] === other[column - 2] && one[row - 2] === other[column - 1];
      if (row > 1 && column > 1 && swapped) best = Math.min(best, at(beforeLast, place) + 1);
      current.push(best);
    }
    if (Math.min(...current) > most) return most + 1;
    beforeLast = last;
    last = current;
  }
  return Math.min(at(last, other.length - one.length + most), most + 1);
}

const far = Number.POSITIVE_INFINITY;

function at(row: readonly number[], place: number): number {
  return row[place] ?? far;
}
