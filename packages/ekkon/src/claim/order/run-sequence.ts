import { isEnd } from '../event.ts';
import type { JudgedEntry } from '../pattern.ts';
import type { Window } from '../window.ts';
import type { EventClass, Expression } from './expression.ts';
import type { Sequence } from './sequence.ts';
import { type SequenceEvent, visitEvents } from './sequence-events.ts';

/** What is left of a sequence, and which beginnings were taken by a leaf that an end has to know of. */
export interface State {
  readonly expression: Expression;
  /** `leaf:entry` for each: the end's leaf, and the entry's id. */
  readonly taken: ReadonlySet<string>;
}

const nothingTaken: ReadonlySet<string> = new Set();

export function startOf({ start }: Sequence): State {
  return { expression: start, taken: nothingTaken };
}

/** Unique for a state of a sequence. */
export function keyOf({ expression, taken }: State): string {
  return taken.size === 0
    ? String(expression.id)
    : `${expression.id} ${[...taken].sort().join(' ')}`;
}
/**
 * Whether a sequence holds, told without keeping its events: `undefined` where it speaks of ends, which do
 * not come in the order of the entries, or where some of them cannot be told.
 */
export function holdsAtOnce(
  sequence: Sequence,
  entries: readonly JudgedEntry[],
  window: Window,
): boolean | undefined {
  if (sequence.leaves.some(isEnd)) return undefined;
  let state = sequence.start;
  const undecided = visitEvents(sequence, entries, window, (eventClass) => {
    state = advance(sequence, state, eventClass);
  });
  return undecided.length > 0 ? undefined : state.nullable;
}

/** One more event: what is left of the expression. A beginning that fits no leaf only goes by. */
function advance({ expressions }: Sequence, left: Expression, event: EventClass): Expression {
  const goesBy = event.leaves.size === 0 && event.begins !== undefined;
  return goesBy ? expressions.pass(left, event) : expressions.derive(left, event);
}

/** The states that an event can lead to: one, unless an end has to know which leaf took a beginning. */
export function nextStates(
  sequence: Sequence,
  state: State,
  event: SequenceEvent,
): readonly State[] {
  const { fail } = sequence.expressions;
  const { taken, expression } = state;
  if (event.depends.length === 0) {
    const left = advance(sequence, expression, event.class);
    return left === fail ? [] : [left === expression ? state : { expression: left, taken }];
  }
  const mark = (leaf: number) => `${leaf}:${event.entry.id}`;
  if (event.end) {
    const known = event.depends.filter((leaf) => taken.has(mark(leaf)));
    const left = advance(
      sequence,
      expression,
      sequence.classFor([...event.class.leaves, ...known]),
    );
    const rest = new Set([...taken].filter((each) => !each.endsWith(`:${event.entry.id}`)));
    return left === fail ? [] : [{ expression: left, taken: rest }];
  }
  return [...event.class.leaves].flatMap((leaf) => {
    const left = advance(sequence, expression, sequence.alone[leaf] as EventClass);
    if (left === fail) return [];
    const marks = event.depends.filter((end) => sequence.beginnings[end]?.has(leaf)).map(mark);
    return [{ expression: left, taken: new Set([...taken, ...marks]) }];
  });
}

/** The states that differ. */
export function uniqueStates(states: readonly State[]): readonly State[] {
  return states.length < 2
    ? states
    : [...new Map(states.map((state) => [keyOf(state), state])).values()];
}

/** Runs a sequence over events; where it fails, at which event, and in which states it can be before one. */
export function runSequence(
  sequence: Sequence,
  events: readonly SequenceEvent[],
  to = events.length,
): { readonly holds: boolean; readonly failedAt: number; readonly states: readonly State[] } {
  let states: readonly State[] = [startOf(sequence)];
  for (let at = 0; at < to; at++) {
    const event = events[at] as SequenceEvent;
    const [only] = states;
    const next =
      states.length === 1 && only !== undefined
        ? nextStates(sequence, only, event)
        : states.flatMap((state) => nextStates(sequence, state, event));
    if (next.length === 0) return { holds: false, failedAt: at, states };
    states = uniqueStates(next);
  }
  return { holds: states.some(({ expression }) => expression.nullable), failedAt: to, states };
}
