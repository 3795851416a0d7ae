import type { HeldEntry } from '../../record/journal.ts';
import { type EventClass, type Expression, firstLeaves } from './expression.ts';
import type { Sequence } from './sequence.ts';

/** The rest of a sequence, and the taken beginnings that an end needs to know. */
export interface SequenceState {
  readonly expression: Expression;
  readonly taken: readonly Taken[];
}

/** A call under way whose beginning a leaf took. */
interface Taken {
  readonly id: number;
  readonly leaf: number;
}

const nothingTaken: readonly Taken[] = [];

/** An event as a sequence hears it. */
export interface SequenceEvent {
  readonly entry: HeldEntry;
  readonly end: boolean;
  /** The leaves that it fits. */
  readonly fits: readonly number[];
}

export function startOf({ start }: Sequence): readonly SequenceState[] {
  return onlyLeft(start);
}

/** The states that an event can lead to, from any of some states; none if nothing takes it. */
export function nextOf(
  sequence: Sequence,
  states: readonly SequenceState[],
  event: SequenceEvent,
): readonly SequenceState[] {
  const [only] = states;
  if (states.length === 1 && only !== undefined) {
    return unique(nextStates(sequence, only, event));
  }
  return unique(states.flatMap((state) => nextStates(sequence, state, event)));
}

/** The states that an event can lead to: one, unless an end has to know which leaf took a beginning. */
export function nextStates(
  sequence: Sequence,
  state: SequenceState,
  event: SequenceEvent,
): readonly SequenceState[] {
  if (event.end) return afterEnd(sequence, state, event);
  const { fits, entry } = event;
  if (!fits.some((leaf) => sequence.remembered.has(leaf))) {
    const left = advance(sequence, state.expression, classOf(sequence, event));
    return moved(sequence, left, state.taken);
  }
  return fits.flatMap((leaf) => {
    const left = advance(sequence, state.expression, sequence.alone[leaf] as EventClass);
    const isRemembered = sequence.remembered.has(leaf);
    const taken = isRemembered ? [...state.taken, { id: entry.id, leaf }] : state.taken;
    return moved(sequence, left, taken);
  });
}

/** An end is taken by the leaves that need no beginning of their own, or whose beginning took this call. */
function afterEnd(
  sequence: Sequence,
  state: SequenceState,
  { entry, fits }: SequenceEvent,
): readonly SequenceState[] {
  const begun = state.taken.find(({ id }) => id === entry.id);
  const taking = fits.filter((leaf) => {
    const own = sequence.beginnings[leaf];
    return own === undefined || own === begun?.leaf;
  });
  const taken = begun === undefined ? state.taken : state.taken.filter((each) => each !== begun);
  const [only] = taking;
  const eventClass =
    taking.length === 1 && only !== undefined
      ? (sequence.alone[only] as EventClass)
      : sequence.classFor(taking);
  return moved(sequence, advance(sequence, state.expression, eventClass), taken);
}

function moved(
  { expressions }: Sequence,
  expression: Expression,
  taken: readonly Taken[],
): readonly SequenceState[] {
  if (expression === expressions.fail) return none;
  return taken.length === 0 ? onlyLeft(expression) : [{ expression, taken }];
}

/** The states in which an expression is all that is left, and nothing has to be known of calls under way. */
function onlyLeft(expression: Expression): readonly SequenceState[] {
  expression.asStates.made ??= [{ expression, taken: nothingTaken }];
  return expression.asStates.made;
}

const none: readonly SequenceState[] = [];

/** The class of a beginning: by the leaves that it fits, and the watched double it is on. */
function classOf(sequence: Sequence, { entry, fits }: SequenceEvent): EventClass {
  const [only] = fits;
  if (fits.length === 1 && only !== undefined) return sequence.alone[only] as EventClass;
  const { double } = entry.target;
  return sequence.classFor(fits, sequence.watched.has(double) ? double : undefined);
}

/** One more event: returns the rest of the expression. A beginning that matches no leaf only passes by. */
function advance({ expressions }: Sequence, left: Expression, event: EventClass): Expression {
  const goesBy = event.leaves.size === 0 && event.begins !== undefined;
  return goesBy ? expressions.pass(left, event) : expressions.derive(left, event);
}

/** The states once a call has ended in a way that nothing in the sequence takes. */
export function forget(states: readonly SequenceState[], ended: number): readonly SequenceState[] {
  if (!states.some(({ taken }) => taken.some(({ id }) => id === ended))) return states;
  return unique(
    states.map(({ expression, taken }) => ({
      expression,
      taken: taken.filter(({ id }) => id !== ended),
    })),
  );
}

/** The states that differ. */
function unique(states: readonly SequenceState[]): readonly SequenceState[] {
  if (states.length < 2) return states;
  const differing = [...new Map(states.map((state) => [keyOf(state), state])).values()];
  return differing.sort((one, other) => one.expression.id - other.expression.id);
}

/** Unique for a state of one sequence. */
export function keyOf({ expression, taken }: SequenceState): string {
  if (taken.length === 0) return String(expression.id);
  const marks = taken.map(({ id, leaf }) => `${id}:${leaf}`);
  return `${expression.id} ${marks.join(' ')}`;
}

/** Whether two sets of states are the same. */
export function sameStates(
  ones: readonly SequenceState[],
  others: readonly SequenceState[],
): boolean {
  if (ones === others) return true;
  if (ones.length !== others.length) return false;
  const keys = new Set(ones.map(keyOf));
  return others.every((state) => keys.has(keyOf(state)));
}

/** Whether a sequence may end in one of some states. */
export function accepts(states: readonly SequenceState[]): boolean {
  return states.some(({ expression }) => expression.nullable);
}

/** The possible next events in a state: each leaf, with the rest after it. */
export function possibleNext(
  sequence: Sequence,
  { expression, taken }: SequenceState,
): readonly { readonly leaf: number; readonly left: SequenceState }[] {
  const { expressions } = sequence;
  return [...firstLeaves(expression)].flatMap((leaf) => {
    const left = expressions.derive(expression, sequence.alone[leaf] as EventClass);
    return left === expressions.fail ? [] : [{ leaf, left: { expression: left, taken } }];
  });
}
