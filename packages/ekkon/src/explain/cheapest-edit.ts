import { isEnd } from '../claim/event.ts';
import type { EventClass, Expression } from '../claim/order/expression.ts';
import { firstLeaves } from '../claim/order/expression.ts';
import { advance, type Sequence, type SequenceEvent } from '../claim/order/sequence.ts';

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
  readonly state: Expression;
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
 * @param from the first event looked at, and `state` what is left before it
 * @param to the event before which it ends; where that is not the last, any state will do there
 */
export function cheapestEdit(
  sequence: Sequence,
  events: readonly SequenceEvent[],
  from: number,
  to: number,
  state: Expression,
): Explanation | undefined {
  const whole = to === events.length;
  const seen = new Set<string>();
  // Costs are whole numbers, and few differ: a list for each, so that nothing has to be sorted.
  const queue: Node[][] = [[{ at: from, state, cost: 0, edit: undefined, before: undefined }]];
  let looked = 0;
  for (let cost = 0; cost < queue.length; cost++) {
    const nodes = queue[cost] ?? [];
    while (nodes.length > 0) {
      const node = nodes.pop() as Node;
      const key = `${node.at} ${node.state.id}`;
      if (seen.has(key)) continue;
      seen.add(key);
      if (++looked > nodesAllowed) return undefined;
      if (node.at === to && (!whole || node.state.nullable))
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
  const { fail, pass, derive } = sequence.expressions;
  const { at, state, cost } = node;
  const next: Node[] = [];
  const add = (place: number, left: Expression, more: number, edit: Edit) => {
    if (left !== fail) next.push({ at: place, state: left, cost: cost + more, edit, before: node });
  };
  for (const leaf of firstLeaves(state)) {
    const pattern = sequence.leaves[leaf];
    const isEnded = pattern !== undefined && isEnd(pattern);
    add(at, derive(state, sequence.alone[leaf] as EventClass), costOf(isEnded), {
      kind: 'missing',
      leaf,
    });
  }
  if (at < to) {
    const { class: event, end } = events[at] as SequenceEvent;
    // As if it were not there at all: nothing is broken by it.
    add(at + 1, state, costOf(end), { kind: 'surplus', at });
    if (event.leaves.size === 0) add(at + 1, pass(state, event), 0, { kind: 'taken', at });
    else add(at + 1, advance(sequence, state, event), 0, { kind: 'taken', at });
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
