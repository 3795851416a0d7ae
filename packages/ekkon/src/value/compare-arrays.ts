import { compareProperties } from './compare-properties.ts';
import type { Comparison, Fit } from './comparison.ts';
import { hasExtras, noteExtras } from './extras.ts';
import { isCut } from './gap.ts';
import { listedKeys } from './prototype-chain.ts';

/**
 * Compares two arrays so that one inserted, missing or moved item is one difference.
 *
 * Equal ends are set aside; what remains is aligned at least cost (edit distance by the table of
 * prefixes) while it is small enough, and else compared place by place.
 */
export function compareArrays(
  comparison: Comparison,
  claimed: readonly unknown[],
  recorded: readonly unknown[],
): void {
  if (isCut(claimed.at(-1)) || isCut(recorded.at(-1))) {
    compareCut(comparison, claimed, recorded);
    return;
  }
  if (comparison.asksOnlyWhether) {
    compareInPlace(comparison, claimed, recorded);
    return;
  }
  const same = memoised(comparison, claimed, recorded);
  let start = 0;
  const shorter = Math.min(claimed.length, recorded.length);
  while (start < shorter && same(start, start) === 'fits') start++;
  let claimedEnd = claimed.length;
  let recordedEnd = recorded.length;
  while (
    claimedEnd > start &&
    recordedEnd > start &&
    same(claimedEnd - 1, recordedEnd - 1) === 'fits'
  ) {
    claimedEnd--;
    recordedEnd--;
  }
  if (start < claimedEnd || start < recordedEnd) {
    const one: Span = { items: claimed, start, length: claimedEnd - start };
    const other: Span = { items: recorded, start, length: recordedEnd - start };
    report(comparison, align(same, one, other), one, other, same);
  }
  compareNamed(comparison, claimed, recorded);
}

/** Compares arrays of which one was too large to keep: what is beyond its end is not known. */
function compareCut(
  comparison: Comparison,
  claimed: readonly unknown[],
  recorded: readonly unknown[],
): void {
  const [isMineCut, areTheirsCut] = [isCut(claimed.at(-1)), isCut(recorded.at(-1))];
  const mine = claimed.length - (isMineCut ? 1 : 0);
  const theirs = recorded.length - (areTheirsCut ? 1 : 0);
  const both = Math.min(mine, theirs);
  for (let at = 0; at < both && !comparison.full; at++)
    if (claimed[at] !== recorded[at]) comparePlace(comparison, claimed, at, recorded, at);
  if (mine > both && !areTheirsCut) comparison.missing(both, claimed[both]);
  if (theirs > both && !isMineCut) comparison.surplus(both, recorded[both]);
  comparison.add('opaque', claimed, recorded, { why: 'bound' });
}

function compareInPlace(
  comparison: Comparison,
  claimed: readonly unknown[],
  recorded: readonly unknown[],
): void {
  const length = Math.min(claimed.length, recorded.length);
  if (claimed.length < recorded.length) comparison.surplus(length, recorded[length]);
  for (let at = length; at < claimed.length; at++) comparison.missing(at, claimed[at]);
  for (let at = 0; at < length && !comparison.full; at++) {
    const [one, other] = [claimed[at], recorded[at]];
    if (one !== other || one === undefined) comparePlace(comparison, claimed, at, recorded, at);
  }
  compareNamed(comparison, claimed, recorded);
}

/** The part of an array that is being aligned. */
interface Span {
  readonly items: readonly unknown[];
  readonly start: number;
  readonly length: number;
}

/** A claimed place beside a recorded one; `undefined` if there is none. */
interface Pair {
  readonly claimed: number | undefined;
  readonly recorded: number | undefined;
}

/** The most cells of the alignment's table. */
const cellsAllowed = 10_000;

function align(same: Same, one: Span, other: Span): readonly Pair[] {
  if (one.length === 0 || other.length === 0 || one.length * other.length > cellsAllowed) {
    return placeByPlace(one, other);
  }
  const steps = Array.from({ length: one.length }, (_, row) =>
    Array.from(
      { length: other.length },
      (_, column) => stepFor[same(one.start + row, other.start + column)],
    ),
  );
  const cost = costTable(steps, one.length, other.length);
  const pairs: Pair[] = [];
  let row = one.length;
  let column = other.length;
  while (row > 0 || column > 0) {
    const here = cell(cost, row, column);
    const step = cell(steps, row - 1, column - 1);
    if (row > 0 && column > 0 && here === cell(cost, row - 1, column - 1) + step) {
      pairs.push({ claimed: one.start + --row, recorded: other.start + --column });
    } else if (row > 0 && here === cell(cost, row - 1, column) + 1) {
      pairs.push({ claimed: one.start + --row, recorded: undefined });
    } else {
      pairs.push({ claimed: undefined, recorded: other.start + --column });
    }
  }
  return pairs.reverse();
}

/** What it costs to take one item for another: next to nothing if it is undecided, so that it stays so. */
const stepFor = { fits: 0, undecided: 1e-6, differs: 1 } as const;

function costTable(
  steps: readonly (readonly number[])[],
  rows: number,
  columns: number,
): number[][] {
  const cost = [Array.from({ length: columns + 1 }, (_, column) => column)];
  for (let row = 1; row <= rows; row++) {
    const current = [row];
    for (let column = 1; column <= columns; column++) {
      const step = cell(steps, row - 1, column - 1);
      current.push(
        Math.min(
          cell(cost, row - 1, column - 1) + step,
          cell(cost, row - 1, column) + 1,
          (current[column - 1] ?? 0) + 1,
        ),
      );
    }
    cost.push(current);
  }
  return cost;
}

function cell(cost: readonly (readonly number[])[], row: number, column: number): number {
  return cost[row]?.[column] ?? Number.POSITIVE_INFINITY;
}

function placeByPlace(one: Span, other: Span): readonly Pair[] {
  const pairs: Pair[] = [];
  // Enough to fill a report; the rest is not looked at one by one.
  const length = Math.min(Math.max(one.length, other.length), cellsAllowed);
  for (let at = 0; at < length; at++) {
    pairs.push({
      claimed: at < one.length ? one.start + at : undefined,
      recorded: at < other.length ? other.start + at : undefined,
    });
  }
  return pairs;
}

function report(
  comparison: Comparison,
  pairs: readonly Pair[],
  one: Span,
  other: Span,
  same: Same,
): void {
  const gone = pairs.filter((pair) => pair.recorded === undefined);
  for (const { claimed, recorded } of pairs) {
    if (comparison.full) return;
    if (claimed !== undefined && recorded !== undefined) {
      comparePlace(comparison, one.items, claimed, other.items, recorded);
    } else if (recorded !== undefined) {
      const moved = gone.findIndex(
        (pair) => pair.claimed !== undefined && same(pair.claimed, recorded) === 'fits',
      );
      const [pair] = moved < 0 ? [] : gone.splice(moved, 1);
      if (pair?.claimed === undefined) comparison.surplus(recorded, other.items[recorded]);
      else comparison.moved(pair.claimed, recorded, one.items[pair.claimed], other.items[recorded]);
    }
  }
  for (const { claimed } of gone)
    if (claimed !== undefined) comparison.missing(claimed, one.items[claimed]);
}

/** Compares one place with another; a hole in a sparse array is no value, not `undefined`. */
function comparePlace(
  comparison: Comparison,
  claimed: readonly unknown[],
  at: number,
  recorded: readonly unknown[],
  other: number,
): void {
  const [here, there] = [Object.hasOwn(claimed, at), Object.hasOwn(recorded, other)];
  if (here && there) comparison.below(other, claimed[at], recorded[other]);
  else if (here) comparison.missing(at, claimed[at]);
  else if (there) comparison.surplus(other, recorded[other]);
}

/** Whether the item at a claimed place is that at a recorded one. */
type Same = (claimed: number, recorded: number) => Fit;

/** Asks once of each pair that is not told at a glance. */
function memoised(
  comparison: Comparison,
  claimed: readonly unknown[],
  recorded: readonly unknown[],
): Same {
  const known = new Map<number, Fit>();
  return (at, other) => {
    const [one, two] = [claimed[at], recorded[other]];
    if (one === two) {
      const isSame =
        one !== undefined || Object.hasOwn(claimed, at) === Object.hasOwn(recorded, other);
      return isSame ? 'fits' : 'differs';
    }
    const cell = at * recorded.length + other;
    const answer =
      known.get(cell) ?? (Object.hasOwn(recorded, other) ? comparison.fitOf(one, two) : 'differs');
    known.set(cell, answer);
    return answer;
  };
}

/** Properties that are no index: a match's `groups`, say. */
function compareNamed(
  comparison: Comparison,
  claimed: readonly unknown[],
  recorded: readonly unknown[],
): void {
  if (!hasExtras(claimed) && !hasExtras(recorded)) return;
  compareProperties(comparison, named(claimed), named(recorded));
}

function named(items: readonly unknown[]): object {
  const keys = listedKeys(items).filter(
    (key) => typeof key === 'symbol' || !/^(0|[1-9]\d*)$/.test(String(key)),
  );
  const found: object = Object.fromEntries(keys.map((key) => [key, Reflect.get(items, key)]));
  noteExtras(found, null);
  return found;
}
