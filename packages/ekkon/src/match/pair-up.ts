/**
 * Pairs as many items of one list with items of another as can be paired at one time, each with one that
 * accepts it: a maximum matching in a bipartite graph, by augmenting paths (Kuhn, 1955).
 *
 * @returns places in the two lists, in the order of the first
 */
export function pairUp<A, B>(
  ones: readonly A[],
  others: readonly B[],
  accepts: (one: A, other: B) => boolean,
): readonly (readonly [number, number])[] {
  const known = new Map<number, boolean>();
  const fits = (one: number, other: number): boolean => {
    const cell = one * others.length + other;
    const answer = known.get(cell) ?? accepts(ones[one] as A, others[other] as B);
    known.set(cell, answer);
    return answer;
  };
  const partner: (number | undefined)[] = new Array(others.length);

  function findFor(one: number, tried: Set<number>): boolean {
    for (let other = 0; other < others.length; other++) {
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

  for (let one = 0; one < ones.length; one++) findFor(one, new Set());
  const pairs: (readonly [number, number])[] = [];
  partner.forEach((one, other) => {
    if (one !== undefined) pairs.push([one, other]);
  });
  return pairs.sort(([one], [other]) => one - other);
}
