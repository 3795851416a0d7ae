import { isEnd } from '../claim/event.ts';
import type { EventClass } from '../claim/order/expression.ts';
import { firstLeaves } from '../claim/order/expression.ts';
import { keyOf, nextStates, type State } from '../claim/order/run-sequence.ts';
import type { Sequence } from '../claim/order/sequence.ts';
import type { SequenceEvent } from '../claim/order/sequence-events.ts';

/** One step of an explanation: an event taken, or one too many, or a leaf that nothing met. */
export type Edit =
  | { readonly kind: 'taken' | 'surplus'; readonly at: number }
  | { readonly kind: 'missing'; readonly leaf: number };

/** The fewest edits that make the events fit the sequence; `whole` says whether all events were looked at. */
export interface Explanation {
  readonly edits: readonly Edit[];
  readonly cost: number;
  readonly whole: boolean;
}

interface Node {
  readonly at: number;
  readonly state: State;
  readonly cost: number;
  readonly edit: Edit | undefined;
  readonly before: Node | undefined;
}

/** Positions and states looked at before the search is given up. */
const nodesAllowed = 60_000;

/**
 * Finds the cheapest way to tell why events do not fit a sequence: the fewest events too many and
 * leaves missing, by a search over (position, what is left), cheapest first (Dijkstra, 1959).
 *
 * @param from the first event looked at, and `states` what may be left before it
 * @param to the event before which it ends; where that is not the last, any state will do there
 */
export function cheapestEdit(
  sequence: Sequence,
  events: readonly SequenceEvent[],
  from: number,
  to: number,
  states: readonly State[],
): Explanation | undefined {
  const whole = to === events.length;
  const seen = new Set<string>();
  // Costs are whole numbers, and few differ: a list for each, so that nothing has to be sorted.
  const queue: Node[][] = [
    states.map((state) => ({ at: from, state, cost: 0, edit: undefined, before: undefined })),
  ];
  let looked = 0;
  for (let cost = 0; cost < queue.length; cost++) {
    const nodes = queue[cost] ?? [];
    while (nodes.length > 0) {
      const node = nodes.pop() as Node;
      const key = `${node.at} ${keyOf(node.state)}`;
      if (seen.has(key)) continue;
      seen.add(key);
      if (++looked > nodesAllowed) return undefined;
      if (node.at === to && (!whole || node.state.expression.nullable))
        return explanationOf(node, whole && from === 0);
      for (const next of nextNodes(sequence, events, node, to)) {
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

function nextNodes(
  sequence: Sequence,
  events: readonly SequenceEvent[],
  node: Node,
  to: number,
): readonly Node[] {
  const { fail, derive } = sequence.expressions;
  const { at, state, cost } = node;
  const next: Node[] = [];
  const add = (place: number, left: State, more: number, edit: Edit) => {
    next.push({ at: place, state: left, cost: cost + more, edit, before: node });
  };
  for (const leaf of firstLeaves(state.expression)) {
    const pattern = sequence.leaves[leaf];
    const left = derive(state.expression, sequence.alone[leaf] as EventClass);
    const more = costOf(pattern !== undefined && isEnd(pattern));
    if (left !== fail)
      add(at, { expression: left, taken: state.taken }, more, { kind: 'missing', leaf });
  }
  if (at < to) {
    const event = events[at] as SequenceEvent;
    // As if it were not there at all: nothing is broken by it.
    add(at + 1, state, costOf(event.end), { kind: 'surplus', at });
    for (const left of nextStates(sequence, state, event))
      add(at + 1, left, 0, { kind: 'taken', at });
  }
  return next;
}

function explanationOf(last: Node, whole: boolean): Explanation {
  const edits: Edit[] = [];
  for (let node: Node | undefined = last; node !== undefined; node = node.before) {
    if (node.edit !== undefined) edits.push(node.edit);
  }
  return { edits: edits.reverse(), cost: Math.floor(last.cost / oneEdit), whole };
}
