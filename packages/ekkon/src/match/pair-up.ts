/** Places in two lists that belong together, in the order of the first. */
export interface Pairing {
  readonly pairs: readonly (readonly [number, number])[];
  readonly unpaired: readonly number[];
  readonly othersUnpaired: readonly number[];
  /** Whether that is certainly the most that can be paired: past a bound it is not looked for. */
  readonly certain: boolean;
}

/** How many questions may be asked before the search is given up. */
const questionsAllowed = 1_000_000;

/**
 * Pairs as many items of one list with items of another as can be paired at one time, each with one that
 * accepts it: a maximum matching in a bipartite graph, by augmenting paths (Kuhn, 1955), begun with what
 * fits place by place.
 */
export function pairUp<A, B>(
  ones: readonly A[],
  others: readonly B[],
  accepts: (one: A, other: B) => boolean,
): Pairing {
  const partner: (number | undefined)[] = new Array(others.length).fill(undefined);
  const waiting: number[] = [];
  ones.forEach((one, at) => {
    if (at < others.length && accepts(one, others[at] as B)) partner[at] = at;
    else waiting.push(at);
  });
  const certain = waiting.length * others.length <= questionsAllowed;
  if (certain) augment(waiting, partner, memoised(ones, others, accepts));
  return pairingOf(ones.length, partner, certain);
}

/** A question that is asked once of each pair. */
function memoised<A, B>(
  ones: readonly A[],
  others: readonly B[],
  accepts: (one: A, other: B) => boolean,
): (one: number, other: number) => boolean {
  const known = new Map<number, boolean>();
  return (one, other) => {
    const cell = one * others.length + other;
    const answer = known.get(cell) ?? accepts(ones[one] as A, others[other] as B);
    known.set(cell, answer);
    return answer;
  };
}

function augment(
  waiting: readonly number[],
  partner: (number | undefined)[],
  fits: (one: number, other: number) => boolean,
): void {
  function findFor(one: number, tried: Set<number>): boolean {
    for (let other = 0; other < partner.length; other++) {
      if (tried.has(other) || !fits(one, other)) continue;
      tried.add(other);
      const holder = partner[other];
      if (holder === undefined || findFor(holder, tried)) {
        partner[other] = one;
        return true;
      }
    }
    return false;
  }
  for (const one of waiting) findFor(one, new Set());
}

function pairingOf(
  length: number,
  partner: readonly (number | undefined)[],
  certain: boolean,
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
  return { pairs, unpaired, othersUnpaired, certain };
}
