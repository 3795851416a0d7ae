import type { Fit } from './comparison.ts';
import { isPrimitive } from './is-primitive.ts';

/** Places in two lists that belong together, in the order of the first. */
export interface Pairing {
  /**
   * `fits`: each item surely has a partner. `differs`: in no reading of what is undecided they all have one.
   * `undecided`: they have if what is undecided fits, or it would take too long to find out.
   */
  readonly fit: Fit;
  readonly pairs: readonly (readonly [number, number])[];
  readonly unpaired: readonly number[];
  readonly othersUnpaired: readonly number[];
  /** Whether these are the most that can be paired: past a bound it is not looked for. */
  readonly isComplete: boolean;
}

/** How many questions may be asked before the search is given up. */
const questionsAllowed = 2_000_000;

/**
 * Pairs as many items of one list with items of another as can be paired at one time, each with one that
 * accepts it: a maximum matching in a bipartite graph, by augmenting paths (Kuhn, 1955), first over what
 * surely fits, then over what is undecided as well. Primitives accept their equals alone, so that they are
 * paired by hashing: no pairing has more for leaving two equal ones apart.
 */
export function pairUp<A, B>(
  ones: readonly A[],
  others: readonly B[],
  ask: (one: A, other: B) => Fit,
): Pairing {
  const partner: (number | undefined)[] = new Array(others.length).fill(undefined);
  const asking = pairEquals(ones, others, partner);
  const waiting: number[] = [];
  for (const at of asking) {
    const isFree = at < others.length && partner[at] === undefined;
    if (isFree && ask(ones[at] as A, others[at] as B) === 'fits') partner[at] = at;
    else waiting.push(at);
  }
  const isComplete = waiting.length * others.length <= questionsAllowed;
  if (!isComplete) return pairingOf(ones.length, partner, 'undecided', false);
  const fitAt = memoised(ones, others, ask);
  const left = augment(waiting, partner, (one, other) => fitAt(one, other) === 'fits');
  const sure = pairingOf(ones.length, partner, 'fits', true);
  if (isPerfect(sure)) return sure;
  augment(left, partner, (one, other) => fitAt(one, other) !== 'differs');
  const likely = pairingOf(ones.length, partner, 'undecided', true);
  return isPerfect(likely) ? likely : { ...likely, fit: 'differs' };
}

function isPerfect({ unpaired, othersUnpaired }: Pairing): boolean {
  return unpaired.length === 0 && othersUnpaired.length === 0;
}

/** Pairs equal primitives, those at the same place first; gives the places of whatever may accept more. */
function pairEquals(
  ones: readonly unknown[],
  others: readonly unknown[],
  partner: (number | undefined)[],
): readonly number[] {
  const free = new Map<unknown, number[]>();
  const asking: number[] = [];
  const elsewhere: number[] = [];
  ones.forEach((one, at) => {
    if (!isPrimitive(one)) asking.push(at);
    else if (at < others.length && sameLeaf(one, others[at])) partner[at] = at;
    else elsewhere.push(at);
  });
  if (elsewhere.length === 0) return asking;
  for (let at = others.length - 1; at >= 0; at--) {
    if (partner[at] !== undefined || !isPrimitive(others[at])) continue;
    const places = free.get(others[at]);
    if (places === undefined) free.set(others[at], [at]);
    else places.push(at);
  }
  // What is undecided may stand for any value.
  const isDecided = others.every((other) => isPrimitive(other) || typeof other === 'function');
  for (const at of elsewhere) {
    const other = free.get(ones[at])?.pop();
    if (other !== undefined) partner[other] = at;
    else if (!isDecided) asking.push(at);
  }
  return asking;
}

/** SameValueZero, which is also how a map finds its keys. */
function sameLeaf(one: unknown, other: unknown): boolean {
  return one === other || Object.is(one, other);
}

/** A question that is asked once of each pair. */
function memoised<A, B>(
  ones: readonly A[],
  others: readonly B[],
  ask: (one: A, other: B) => Fit,
): (one: number, other: number) => Fit {
  const known = new Map<number, Fit>();
  return (one, other) => {
    const cell = one * others.length + other;
    const answer = known.get(cell) ?? ask(ones[one] as A, others[other] as B);
    known.set(cell, answer);
    return answer;
  };
}

/** Finds partners for those that wait; gives those that have none. */
function augment(
  waiting: readonly number[],
  partner: (number | undefined)[],
  accepts: (one: number, other: number) => boolean,
): readonly number[] {
  function findFor(one: number, tried: Set<number>): boolean {
    for (let other = 0; other < partner.length; other++) {
      if (tried.has(other) || !accepts(one, other)) continue;
      tried.add(other);
      const holder = partner[other];
      if (holder === undefined || findFor(holder, tried)) {
        partner[other] = one;
        return true;
      }
    }
    return false;
  }
  return waiting.filter((one) => !findFor(one, new Set()));
}

function pairingOf(
  length: number,
  partner: readonly (number | undefined)[],
  fit: Fit,
  isComplete: boolean,
): Pairing {
  const pairs: (readonly [number, number])[] = [];
  const othersUnpaired: number[] = [];
  partner.forEach((one, other) => {
    if (one === undefined) othersUnpaired.push(other);
    else pairs.push([one, other]);
  });
  pairs.sort(([one], [other]) => one - other);
  const paired = new Set(pairs.map(([one]) => one));
  const unpaired = Array.from({ length }, (_, at) => at).filter((at) => !paired.has(at));
  return { fit, pairs, unpaired, othersUnpaired, isComplete };
}
