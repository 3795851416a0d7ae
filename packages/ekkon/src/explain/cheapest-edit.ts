/** One step of an explanation: an event taken, or one too many, or a leaf that nothing met. */
export type Edit =
  | { readonly kind: 'taken' | 'surplus'; readonly at: number }
  | { readonly kind: 'missing'; readonly leaf: number };

/** The fewest edits that make the events fit; `whole` says whether all events were looked at. */
export interface Explanation {
  readonly edits: readonly Edit[];
  readonly cost: number;
  readonly whole: boolean;
}

/** What takes events one by one, and may come to accept them. */
export interface Acceptor<S> {
  /** How many events there are. */
  readonly length: number;
  /** Whether the event at a place is an end. */
  isEnd(at: number): boolean;
  /** The states to which the event at a place can lead; none if it cannot be taken. */
  next(state: S, at: number): readonly S[];
  /** What could come next in a state, though it did not: the leaf, whether it is an end, and what is left then. */
  missing(state: S): readonly { readonly leaf: number; readonly end: boolean; readonly left: S }[];
  accepts(state: S): boolean;
  /** Unique for a state. */
  keyOf(state: S): string;
}

interface Node<S> {
  readonly at: number;
  readonly state: S;
  readonly cost: number;
  readonly edit: Edit | undefined;
  readonly before: Node<S> | undefined;
}

/** Positions and states looked at before the search is given up. */
const nodesAllowed = 60_000;

/**
 * Finds the cheapest way to tell why events are not accepted: the fewest events too many and leaves
 * missing, by a search over (position, state), cheapest first (Dijkstra, 1959).
 *
 * @param from the first event looked at, and `states` those possible before it
 * @param to the event before which it ends; if that is not the last, any state will do there
 */
export function cheapestEdit<S>(
  acceptor: Acceptor<S>,
  from: number,
  to: number,
  states: readonly S[],
): Explanation | undefined {
  const whole = to === acceptor.length;
  const seen = new Set<string>();
  // Costs are whole numbers, and few differ: a list for each, so that nothing has to be sorted.
  const queue: Node<S>[][] = [
    states.map((state) => ({ at: from, state, cost: 0, edit: undefined, before: undefined })),
  ];
  let looked = 0;
  for (let cost = 0; cost < queue.length; cost++) {
    const nodes = queue[cost] ?? [];
    while (nodes.length > 0) {
      const node = nodes.pop() as Node<S>;
      const key = `${node.at} ${acceptor.keyOf(node.state)}`;
      if (seen.has(key)) continue;
      seen.add(key);
      if (++looked > nodesAllowed) return undefined;
      if (node.at === to && (!whole || acceptor.accepts(node.state)))
        return explanationOf(node, whole && from === 0);
      for (const next of nextNodes(acceptor, node, to)) {
        const list = queue[next.cost] ?? [];
        list.push(next);
        queue[next.cost] = list;
      }
    }
  }
  return undefined;
}

/** Among explanations with as few edits, one that blames what began is better than one that blames an end. */
function costOf(end: boolean): number {
  return end ? oneEdit + 1 : oneEdit;
}

const oneEdit = 1_000;

function nextNodes<S>(acceptor: Acceptor<S>, node: Node<S>, to: number): readonly Node<S>[] {
  const { at, state, cost } = node;
  const next: Node<S>[] = [];
  const add = (place: number, left: S, more: number, edit: Edit) => {
    next.push({ at: place, state: left, cost: cost + more, edit, before: node });
  };
  for (const { leaf, end, left } of acceptor.missing(state))
    add(at, left, costOf(end), { kind: 'missing', leaf });
  if (at < to) {
    // As if it were not there at all: nothing is broken by it.
    add(at + 1, state, costOf(acceptor.isEnd(at)), { kind: 'surplus', at });
    for (const left of acceptor.next(state, at)) add(at + 1, left, 0, { kind: 'taken', at });
  }
  return next;
}

function explanationOf<S>(last: Node<S>, whole: boolean): Explanation {
  const edits: Edit[] = [];
  for (let node: Node<S> | undefined = last; node !== undefined; node = node.before) {
    if (node.edit !== undefined) edits.push(node.edit);
  }
  return { edits: edits.reverse(), cost: Math.floor(last.cost / oneEdit), whole };
}
