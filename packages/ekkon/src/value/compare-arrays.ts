import { compareProperties } from './compare-properties.ts';
import type { Comparison, Fit } from './comparison.ts';
import { hasExtras, noteExtras } from './extras.ts';
import { isCut } from './gap.ts';
import { listedKeys } from './prototype-chain.ts';

/**
 * Compares two arrays so that one inserted, missing or moved item is one difference.
 *
 * Equal ends are set aside. The rest is aligned at least cost (edit distance by the table of prefixes) if it is small
 * enough, otherwise compared place by place.
 */
export function compareArrays(
  comparison: Comparison,
  expected: readonly unknown[],
  received: readonly unknown[],
): void {
  if (isCut(expected.at(-1)) || isCut(received.at(-1))) {
    compareCut(comparison, expected, received);
    return;
  }
  if (comparison.asksOnlyWhether) {
    compareInPlace(comparison, expected, received);
    return;
  }
  const same = memoised(comparison, expected, received);
  let start = 0;
  const shorter = Math.min(expected.length, received.length);
  while (start < shorter && same(start, start) === 'fits') start++;
  let claimedEnd = expected.length;
  let recordedEnd = received.length;
  while (
    claimedEnd > start &&
    recordedEnd > start &&
    same(claimedEnd - 1, recordedEnd - 1) === 'fits'
  ) {
    claimedEnd--;
    recordedEnd--;
  }
  if (start < claimedEnd || start < recordedEnd) {
    const one: Span = { items: expected, start, length: claimedEnd - start };
    const other: Span = { items: received, start, length: recordedEnd - start };
    report(comparison, align(same, one, other), one, other, same);
  }
  compareNamed(comparison, expected, received);
}

/** Compares arrays of which one was too large to keep: the items beyond its end are unknown. */
function compareCut(
  comparison: Comparison,
  expected: readonly unknown[],
  received: readonly unknown[],
): void {
  const [isMineCut, areTheirsCut] = [isCut(expected.at(-1)), isCut(received.at(-1))];
  const mine = expected.length - (isMineCut ? 1 : 0);
  const theirs = received.length - (areTheirsCut ? 1 : 0);
  const both = Math.min(mine, theirs);
  for (let at = 0; at < both && !comparison.full; at++)
    if (expected[at] !== received[at]) comparePlace(comparison, expected, at, received, at);
  if (mine > both && !areTheirsCut) comparison.missing(both, expected[both]);
  if (theirs > both && !isMineCut) comparison.surplus(both, received[both]);
  comparison.add('opaque', expected, received, { why: 'bound' });
}

function compareInPlace(
  comparison: Comparison,
  expected: readonly unknown[],
  received: readonly unknown[],
): void {
  const length = Math.min(expected.length, received.length);
  if (expected.length < received.length) comparison.surplus(length, received[length]);
  for (let at = length; at < expected.length; at++) comparison.missing(at, expected[at]);
  for (let at = 0; at < length && !comparison.full; at++) {
    const [one, other] = [expected[at], received[at]];
    if (one !== other || one === undefined) comparePlace(comparison, expected, at, received, at);
  }
  compareNamed(comparison, expected, received);
}

/** The part of an array that is being aligned. */
interface Span {
  readonly items: readonly unknown[];
  readonly start: number;
  readonly length: number;
}

/** An expected place beside a received one; `undefined` if there is none. */
interface Pair {
  readonly expected: number | undefined;
  readonly received: number | undefined;
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
    const step = row > 0 && column > 0 ? cell(steps, row - 1, column - 1) : stepFor.differs;
    // Of equally good alignments, the one that pairs the first items, so leftover ones are at the end.
    if (step < stepFor.differs && here === cell(cost, row - 1, column - 1) + step) {
      pairs.push({ expected: one.start + --row, received: other.start + --column });
    } else if (row > 0 && here === cell(cost, row - 1, column) + 1) {
      pairs.push({ expected: one.start + --row, received: undefined });
    } else if (column > 0 && here === cell(cost, row, column - 1) + 1) {
      pairs.push({ expected: undefined, received: other.start + --column });
    } else {
      pairs.push({ expected: one.start + --row, received: other.start + --column });
    }
  }
  return pairs.reverse();
}

/** The cost of taking one item for another: almost none if it is undecided, so it stays undecided. */
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
      expected: at < one.length ? one.start + at : undefined,
      received: at < other.length ? other.start + at : undefined,
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
  const gone = pairs.filter((pair) => pair.received === undefined);
  for (const { expected, received } of pairs) {
    if (comparison.full) return;
    if (expected !== undefined && received !== undefined) {
      comparePlace(comparison, one.items, expected, other.items, received);
    } else if (received !== undefined) {
      const moved = gone.findIndex(
        (pair) => pair.expected !== undefined && same(pair.expected, received) === 'fits',
      );
      const [pair] = moved < 0 ? [] : gone.splice(moved, 1);
      if (pair?.expected === undefined) comparison.surplus(received, other.items[received]);
      else
        comparison.moved(pair.expected, received, one.items[pair.expected], other.items[received]);
    }
  }
  for (const { expected } of gone)
    if (expected !== undefined) comparison.missing(expected, one.items[expected]);
}

/** Compares one place with another; a hole in a sparse array holds no value: it is not `undefined`. */
function comparePlace(
  comparison: Comparison,
  expected: readonly unknown[],
  at: number,
  received: readonly unknown[],
  other: number,
): void {
  const [here, there] = [Object.hasOwn(expected, at), Object.hasOwn(received, other)];
  if (here && there) comparison.below(other, expected[at], received[other]);
  else if (here) comparison.missing(at, expected[at]);
  else if (there) comparison.surplus(other, received[other]);
}

/** Whether the item at an expected place is that at a received one. */
type Same = (expected: number, received: number) => Fit;

/** Asks once of each pair that is not told at a glance. */
function memoised(
  comparison: Comparison,
  expected: readonly unknown[],
  received: readonly unknown[],
): Same {
  const known = new Map<number, Fit>();
  return (at, other) => {
    const [one, two] = [expected[at], received[other]];
    if (one === two) {
      const isSame =
        one !== undefined || Object.hasOwn(expected, at) === Object.hasOwn(received, other);
      return isSame ? 'fits' : 'differs';
    }
    const cell = at * received.length + other;
    const answer =
      known.get(cell) ?? (Object.hasOwn(received, other) ? comparison.fitOf(one, two) : 'differs');
    known.set(cell, answer);
    return answer;
  };
}

/** Properties other than the items: a match's `groups`, say. */
function compareNamed(
  comparison: Comparison,
  expected: readonly unknown[],
  received: readonly unknown[],
): void {
  if (!hasExtras(expected) && !hasExtras(received)) return;
  compareProperties(comparison, named(expected), named(received));
}

function named(items: readonly unknown[]): object {
  const keys = listedKeys(items).filter(
    (key) => typeof key === 'symbol' || !/^(0|[1-9]\d*)$/.test(String(key)),
  );
  const found: object = Object.fromEntries(keys.map((key) => [key, Reflect.get(items, key)]));
  noteExtras(found, null);
  return found;
}
