import { diffArrays } from 'diff';

/** How two lists go together: for each place of the one the place of the other, -1 where there is none. */
export interface Alignment {
  readonly toAfter: readonly number[];
  readonly toBefore: readonly number[];
}

/** Edits beyond which two records have too little in common to be aligned. */
const editsAtMost = 2_000;

/**
 * Aligns two lists so that as few items as possible are gone or new (Myers, "An O(ND) difference algorithm", 1986).
 * Of equally good alignments, it takes the one in which items that repeat their predecessors are gone or new.
 *
 * @returns `undefined` if there are more than 2,000 edits
 */
export function align(before: readonly string[], after: readonly string[]): Alignment | undefined {
  const parts = diffArrays([...before], [...after], { maxEditLength: editsAtMost });
  if (parts === undefined) return undefined;
  const toAfter = before.map(() => -1);
  const toBefore = after.map(() => -1);
  let [at, to] = [0, 0];
  for (const { added, removed, count } of parts) {
    if (removed) at += count;
    else if (added) to += count;
    else
      for (let left = count; left > 0; left--) {
        toAfter[at] = to;
        toBefore[to++] = at++;
      }
  }
  slide(before, toAfter, toBefore);
  slide(after, toBefore, toAfter);
  return { toAfter, toBefore };
}

/**
 * Moves each run of unaligned items to where it says most: to the end, if its items allow that; else back as far as they
 * allow, then on by whole lengths of itself, past items that it repeats.
 */
function slide(keys: readonly string[], own: number[], other: number[]): void {
  for (let start = 0; start < own.length; start++) {
    if (own[start] !== -1) continue;
    let end = start;
    while (end < own.length && own[end] === -1) end++;
    const run = { keys, own, other, length: end - start };
    const first = reachesEnd(run, start) ? toEnd(run, start) : toRepeat(run, toStart(run, start));
    start = Math.max(end, first + run.length) - 1;
  }
}

/** A run of unaligned items, and the run around it. */
interface Run {
  readonly keys: readonly string[];
  readonly own: number[];
  readonly other: number[];
  readonly length: number;
}

function reachesEnd({ keys, own, length }: Run, first: number): boolean {
  for (let at = first + length; at < own.length; at++)
    if (own[at] === -1 || keys[at] !== keys[at - length]) return false;
  return true;
}

function toEnd(run: Run, start: number): number {
  let first = start;
  while (first + run.length < run.own.length) exchange(run, first + run.length, first++);
  return first;
}

function toStart(run: Run, start: number): number {
  const { keys, own, other, length } = run;
  let first = start;
  const isFree = (at: number) => {
    const partner = own[at] ?? -1;
    return partner !== -1 && own[at - 1] !== -1 && !hasUnaligned(other, partner);
  };
  while (keys[first - 1] === keys[first + length - 1] && isFree(first - 1)) {
    first--;
    exchange(run, first, first + length);
  }
  return first;
}

function toRepeat(run: Run, start: number): number {
  const { keys, own, other, length } = run;
  let first = start;
  while (repeats(keys, first, length) && areAligned(own, other, first + length, length)) {
    for (let at = first; at < first + length; at++) exchange(run, at + length, at);
    first += length;
  }
  return first;
}

/** Whether an item of the other list next to one is unaligned: nothing is moved past it. */
function hasUnaligned(other: readonly number[], at: number): boolean {
  return other[at - 1] === -1 || other[at + 1] === -1;
}

function repeats(keys: readonly string[], first: number, length: number): boolean {
  for (let at = first; at < first + length; at++) if (keys[at] !== keys[at + length]) return false;
  return first + 2 * length <= keys.length;
}

function areAligned(
  own: readonly number[],
  other: readonly number[],
  from: number,
  length: number,
): boolean {
  for (let at = from; at < from + length; at++) {
    const partner = own[at] ?? -1;
    if (partner === -1 || hasUnaligned(other, partner)) return false;
  }
  return true;
}

/** Lets an unaligned item take the partner of another. */
function exchange({ own, other }: Run, from: number, to: number): void {
  const partner = own[from] as number;
  own[to] = partner;
  own[from] = -1;
  other[partner] = to;
}
