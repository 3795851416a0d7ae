/** One step of an explanation: an event taken, an unexpected event, or a leaf that nothing matched. */
export type Edit =
  | { readonly kind: 'taken' | 'surplus'; readonly at: number }
  | { readonly kind: 'missing'; readonly leaf: number };

/** The fewest edits that make the events fit; `whole` says whether all events were looked at. */
export interface Explanation {
  readonly edits: readonly Edit[];
  readonly cost: number;
  readonly whole: boolean;
}

/** Takes events one by one, and may come to accept them. */
export interface Acceptor<S> {
  /** How many events there are. */
  readonly length: number;
  /** Whether the event at a place is an end. */
  isEnd(at: number): boolean;
  /** The states to which the event at a place can lead; none if it cannot be taken. */
  next(state: S, at: number): readonly S[];
  /** The events that could have come next in a state: the leaf, whether it is an end, and the remaining state. */
  missing(state: S): readonly { readonly leaf: number; readonly end: boolean; readonly left: S }[];
  accepts(state: S): boolean;
  /** Whether the event at a place is one that a leaf stands for. */
  fits(at: number, leaf: number): boolean;
  /** Whether the event at a place repeats the one before it, so it is likelier to be one too many. */
  repeats(at: number): boolean;
  /** Unique for a state. */
  keyOf(state: S): string;
}

interface Node<S> {
  readonly at: number;
  readonly state: S;
  /** How many edits there are. */
  readonly cost: number;
  /** Among explanations with as few edits, less is better. */
  readonly unlikely: number;
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
  const start = { at: from, cost: 0, unlikely: 0, edit: undefined, before: undefined };
  const queue: Node<S>[][] = [states.map((state) => ({ ...start, state }))];
  let looked = 0;
  for (let cost = 0; cost < queue.length; cost++) {
    // Taking an event costs nothing, so it is looked at next, and the order stays.
    const nodes = (queue[cost] ?? []).sort((one, other) => other.unlikely - one.unlikely);
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

/**
 * How unlikely an edit is: blaming a beginning is better than blaming an end, and blaming a late event is better than
 * an early one, which came as expected.
 */
function unlikelihood(end: boolean, left: number): number {
  return (end ? 1_000_000 : 0) + left;
}

/** How many events an event has moved by at most, for its two edits to be likelier than others. */
const movedBy = 6;

/** What decides between edits that are as likely by their places: a short move, then a call that is repeated. */
function unlikelier<S>(acceptor: Acceptor<S>, node: Node<S>, edit: Edit): number {
  let last: Node<S> | undefined = node;
  for (let taken = 0; taken < movedBy && last?.edit?.kind === 'taken'; taken++) last = last.before;
  if (isMove(acceptor, last?.edit, edit)) return -0.5;
  return edit.kind === 'surplus' && !acceptor.repeats(edit.at) ? 0.25 : 0;
}

/** Whether two edits say that an event came at another place. */
function isMove<S>({ fits }: Acceptor<S>, one: Edit | undefined, other: Edit): boolean {
  if (one?.kind === 'surplus') return other.kind === 'missing' && fits(one.at, other.leaf);
  return one?.kind === 'missing' && other.kind === 'surplus' && fits(other.at, one.leaf);
}

function nextNodes<S>(acceptor: Acceptor<S>, node: Node<S>, to: number): readonly Node<S>[] {
  const { at, state, cost, unlikely } = node;
  const next: Node<S>[] = [];
  const edited = (edit: Edit, end: boolean) => ({
    edit,
    cost: cost + 1,
    unlikely: unlikely + unlikelihood(end, to - at) + unlikelier(acceptor, node, edit),
    before: node,
  });
  for (const { leaf, end, left } of acceptor.missing(state))
    next.push({ at, state: left, ...edited({ kind: 'missing', leaf }, end) });
  if (at < to) {
    // Skipping it must not count as breaking `unbroken` steps.
    next.push({ at: at + 1, state, ...edited({ kind: 'surplus', at }, acceptor.isEnd(at)) });
    for (const left of acceptor.next(state, at)) {
      const taken = { kind: 'taken', at } as const;
      next.push({ at: at + 1, state: left, cost, unlikely, edit: taken, before: node });
    }
  }
  return next;
}

function explanationOf<S>(last: Node<S>, whole: boolean): Explanation {
  const edits: Edit[] = [];
  for (let node: Node<S> | undefined = last; node !== undefined; node = node.before) {
    if (node.edit !== undefined) edits.push(node.edit);
  }
  return { edits: edits.reverse(), cost: last.cost, whole };
}
