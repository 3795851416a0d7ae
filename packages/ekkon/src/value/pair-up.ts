import type { Fit } from './comparison.ts';
import { isPrimitive } from './is-primitive.ts';
import { likenessOf, outlineOf } from './outline.ts';

/** Places in two lists that belong together, in the order of the first. */
export interface Pairing {
  /**
   * `fits`: each item certainly has a partner. `differs`: however the undecided pairs are decided, some item has
   * none. `undecided`: all have one if undecided pairs match, or finding out would take too long.
   */
  readonly fit: Fit;
  readonly pairs: readonly (readonly [number, number])[];
  readonly unpaired: readonly number[];
  readonly othersUnpaired: readonly number[];
  /** Whether these are the most that can be paired: past a bound it is not looked for. */
  readonly isComplete: boolean;
}

/** How many questions may be asked before the search is given up. */
const questionsAllowed = 400_000;

/** Known about items without asking whether one accepts another. */
export interface Hints<A, B> {
  /** The part of an item by which most pairs are told apart. */
  readonly partOf: (item: A | B) => unknown;
  /** The objects themselves that an item was copied from: two that share one are always asked about. */
  readonly objectsOf: (one: A) => readonly unknown[];
  readonly objectsOfOther: (other: B) => readonly unknown[];
}

/**
 * Pairs as many items of one list with items of another as can be paired at one time, each with one that
 * accepts it: a maximum matching in a bipartite graph, by augmenting paths (Kuhn, 1955), first over pairs that
 * surely fit, then over undecided ones as well. Any pairing may be begun with, so items that look alike are tried
 * first: primitives, which accept their equals alone, and plain data. Most of the other pairs are told apart by
 * their outlines.
 *
 * @param asksOnlyWhether whether it is only asked if all items of both lists have partners, not which have none
 */
export function pairUp<A, B>(
  ones: readonly A[],
  others: readonly B[],
  ask: (one: A, other: B) => Fit,
  hints: Hints<A, B>,
  asksOnlyWhether = false,
): Pairing {
  if (asksOnlyWhether && ones.length !== others.length) return differing(ones, others);
  const partner: (number | undefined)[] = new Array(others.length).fill(undefined);
  const asking = pairEquals(ones, others, partner);
  if (asking.length === 0) return settled(ones, partner);
  const fitAt = memoised(ones, others, ask);
  const inPlace = asking.filter((at) => {
    const isFree = at < others.length && partner[at] === undefined;
    if (isFree && fitAt(at, at) === 'fits') partner[at] = at;
    return partner[at] !== at;
  });
  const waiting = pairAlike(inPlace, ones, others, partner, fitAt, hints);
  const differAtOnce = outlined(ones, others, hints);
  if (questionsLeft(waiting, others.length, differAtOnce) > questionsAllowed)
    return pairingOf(ones.length, partner, 'undecided', false);
  const accepts = (one: number, other: number, isEnough: (fit: Fit) => boolean) =>
    !differAtOnce(one, other) && isEnough(fitAt(one, other));
  const mayAccept = (one: number, other: number) => accepts(one, other, (fit) => fit !== 'differs');
  if (asksOnlyWhether && !canAllBePaired(waiting, partner, mayAccept))
    return differing(ones, others);
  const left = augment(waiting, partner, (one, other) =>
    accepts(one, other, (fit) => fit === 'fits'),
  );
  const sure = pairingOf(ones.length, partner, 'fits', true);
  if (isPerfect(sure)) return sure;
  augment(left, partner, mayAccept);
  const likely = pairingOf(ones.length, partner, 'undecided', true);
  return isPerfect(likely) ? likely : { ...likely, fit: 'differs' };
}

/** No pairing, of lists of which it is known that they cannot be paired. */
function differing(ones: readonly unknown[], others: readonly unknown[]): Pairing {
  const all = (items: readonly unknown[]) => items.map((_, at) => at);
  return {
    fit: 'differs',
    pairs: [],
    unpaired: all(ones),
    othersUnpaired: all(others),
    isComplete: true,
  };
}

/** Whether all that wait find partners, the most telling first; it ends with the first that finds none. */
function canAllBePaired(
  waiting: readonly number[],
  partner: readonly (number | undefined)[],
  accepts: (one: number, other: number) => boolean,
): boolean {
  const tried = [...partner];
  return waiting.every((one) => augment([one], tried, accepts).length === 0);
}

/** The pairing if nothing is left to ask. */
function settled(ones: readonly unknown[], partner: readonly (number | undefined)[]): Pairing {
  const sure = pairingOf(ones.length, partner, 'fits', true);
  return isPerfect(sure) ? sure : { ...sure, fit: 'differs' };
}

/** How many of the items that look like one are tried for it. */
const alikeTried = 4;

/** Pairs items that look alike, if they fit; gives the places of those that found none. */
function pairAlike<A, B>(
  asking: readonly number[],
  ones: readonly A[],
  others: readonly B[],
  partner: (number | undefined)[],
  fitAt: (one: number, other: number) => Fit,
  { partOf }: Hints<A, B>,
): readonly number[] {
  if (asking.length < 2) return asking;
  const free = new Map<string, number[]>();
  others.forEach((other, at) => {
    if (partner[at] !== undefined) return;
    const likeness = likenessOf(partOf(other));
    const places = free.get(likeness);
    if (places === undefined) free.set(likeness, [at]);
    else places.push(at);
  });
  return asking.filter((at) => {
    const places = free.get(likenessOf(partOf(ones[at] as A))) ?? [];
    const found = places.slice(0, alikeTried).findIndex((other) => fitAt(at, other) === 'fits');
    const [other] = found < 0 ? [] : places.splice(found, 1);
    if (other !== undefined) partner[other] = at;
    return other === undefined;
  });
}

/** Whether two items have outlines, and others ones. */
function outlined<A, B>(
  ones: readonly A[],
  others: readonly B[],
  { partOf, objectsOf, objectsOfOther }: Hints<A, B>,
): (one: number, other: number) => boolean {
  const numbers = new Map<string, number>();
  const numberOf = (value: unknown) => {
    const outline = outlineOf(value);
    if (outline === undefined) return 0;
    const known = numbers.get(outline) ?? numbers.size + 1;
    numbers.set(outline, known);
    return known;
  };
  const mine = ones.map((one) => numberOf(partOf(one)));
  const theirs = others.map((other) => numberOf(partOf(other)));
  const [objects, othersObjects] = [ones.map(objectsOf), others.map(objectsOfOther)];
  const areShared = shareAny(objects.flat(), othersObjects.flat());
  return (one, other) =>
    mine[one] !== theirs[other] &&
    mine[one] !== 0 &&
    theirs[other] !== 0 &&
    !(areShared && shareAny(objects[one], othersObjects[other]));
}

function shareAny(ones: readonly unknown[] = [], others: readonly unknown[] = []): boolean {
  const all = others.length > 4 ? new Set(others) : undefined;
  return ones.some((one) => one !== undefined && (all?.has(one) ?? others.includes(one)));
}

/** How many pairs are not told apart at once, as far as that matters. */
function questionsLeft(
  waiting: readonly number[],
  others: number,
  differAtOnce: (one: number, other: number) => boolean,
): number {
  if (waiting.length * others <= questionsAllowed) return 0;
  if (waiting.length * others > pairsAllowed) return Number.POSITIVE_INFINITY;
  let left = 0;
  for (const one of waiting)
    for (let other = 0; other < others; other++) if (!differAtOnce(one, other)) left++;
  return left;
}

/** How many pairs are told apart by their outlines at most. */
const pairsAllowed = 25_000_000;

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
  // An undecided item may stand for any value.
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
