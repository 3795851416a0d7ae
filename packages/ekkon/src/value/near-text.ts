/**
 * Whether two names are likely the same one mistyped: equal but for case and separators, or at most a
 * third of their letters edited (at least one, at most three).
 */
export function nearText(one: string, other: string): boolean {
  const [left, right] = [bare(one), bare(other)];
  if (left === right) return true;
  const allowed = Math.min(3, Math.max(1, Math.floor(Math.max(left.length, right.length) / 3)));
  return Math.min(left.length, right.length) > 1 && editDistance(left, right) <= allowed;
}

function bare(name: string): string {
  return name.toLowerCase().replace(/[-_\s]/g, '');
}

/**
 * How many letters must be added, left out, changed or swapped with their neighbour to get from one text
 * to the other: the restricted Damerau-Levenshtein distance, by the usual table of prefixes.
 */
export function editDistance(one: string, other: string): number {
  let beforeLast: number[] = [];
  let last = Array.from({ length: other.length + 1 }, (_, column) => column);
  for (let row = 1; row <= one.length; row++) {
    const current = [row];
    for (let column = 1; column <= other.length; column++) {
      const same = one[row - 1] === other[column - 1];
      let best = Math.min(
        at(last, column) + 1,
        at(current, column - 1) + 1,
        at(last, column - 1) + (same ? 0 : 1),
      );
      const swapped = one[row - 1] === other[column - 2] && one[row - 2] === other[column - 1];
      if (row > 1 && column > 1 && swapped) best = Math.min(best, at(beforeLast, column - 2) + 1);
      current.push(best);
    }
    beforeLast = last;
    last = current;
  }
  return at(last, other.length);
}

function at(row: readonly number[], column: number): number {
  return row[column] ?? Number.POSITIVE_INFINITY;
}
