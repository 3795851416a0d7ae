import { printsAs } from '../../record/prints-as.ts';
import { eventFit, type HeldEvent, isEnd, memberOf } from '../event.ts';
import type { JudgedEntry } from '../pattern.ts';
import { type Window, within } from '../window.ts';
import {
  type EventClass,
  type Expression,
  type Expressions,
  makeExpressions,
} from './expression.ts';
import type { StepTree } from './steps.ts';

/** A sequence made ready to be run over events. */
export interface Sequence {
  readonly expressions: Expressions;
  readonly start: Expression;
  /** The patterns of its leaves, by number. */
  readonly leaves: readonly HeldEvent[];
  /** The doubles on which something may be unbroken, so that each beginning on them counts. */
  readonly watched: ReadonlySet<string>;
  /** For each leaf, the class of an event that it alone takes. */
  readonly alone: readonly EventClass[];
  /**
   * For each end, the equal beginnings that may come before it in the sequence: it takes only ends of
   * calls whose beginnings one of them took. Empty: it takes any.
   */
  readonly beginnings: readonly ReadonlySet<number>[];
  /** The class of an end that just these leaves take. */
  readonly classOf: (leaves: readonly number[]) => EventClass;
}

/** An event that the sequence has to do with. */
export interface SequenceEvent {
  readonly entry: JudgedEntry;
  readonly tick: number;
  readonly end: boolean;
  readonly class: EventClass;
  /** For a beginning: ends that have to know which leaf took it. For an end: leaves that take it if so. */
  readonly depends: readonly number[];
}

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

export function compileSequence(tree: StepTree): Sequence {
  const expressions = makeExpressions();
  const leaves: HeldEvent[] = [];
  const watched = new Set<string>();

  function build(step: StepTree): Expression {
    switch (step.kind) {
      case 'event': {
        const known = leaves.indexOf(step.event);
        return expressions.leaf(known >= 0 ? known : leaves.push(step.event) - 1);
      }
      case 'loop':
        return expressions.loop(build(step.part), step.range.least, step.range.most);
      case 'unbroken': {
        const doubles = new Set(eventsIn(step).map((event) => memberOf(event).double));
        for (const double of doubles) watched.add(double);
        return expressions.unbroken(expressions.then(step.parts.map(build)), doubles);
      }
      default:
        return expressions[step.kind](step.parts.map(build));
    }
  }

  const start = build(tree);
  const alone = leaves.map((leaf, at): EventClass => {
    const begins = isEnd(leaf) || !watched.has(leaf.member.double) ? undefined : leaf.member.double;
    return { leaves: new Set([at]), begins };
  });
  const ends = new Map<string, EventClass>();
  const classOf = (taking: readonly number[]): EventClass => {
    const key = [...taking].sort().join(',');
    const known = ends.get(key) ?? { leaves: new Set(taking), begins: undefined };
    ends.set(key, known);
    return known;
  };
  return {
    expressions,
    start,
    leaves,
    watched,
    alone,
    beginnings: beginningsIn(tree, leaves),
    classOf,
  };
}

/** For each end among the leaves, the equal beginnings that may come before it. */
function beginningsIn(
  tree: StepTree,
  leaves: readonly HeldEvent[],
): readonly ReadonlySet<number>[] {
  const found = leaves.map(() => new Set<number>());

  /** Visits a step, given the beginnings that may come before it; gives those in it. */
  function visit(step: StepTree, before: ReadonlySet<number>): ReadonlySet<number> {
    switch (step.kind) {
      case 'event': {
        const at = leaves.indexOf(step.event);
        if (!isEnd(step.event)) return new Set([at]);
        const calls = step.event.calls[printsAs];
        for (const begin of before)
          if ((leaves[begin] as HeldEvent)[printsAs] === calls) found[at]?.add(begin);
        return new Set();
      }
      case 'loop': {
        const own = visit(step.part, before);
        if (step.range.most > 1) visit(step.part, new Set([...before, ...own]));
        return own;
      }
      case 'either':
        return new Set(step.parts.flatMap((part) => [...visit(part, before)]));
      case 'together': {
        const own = step.parts.map((part) => visit(part, before));
        step.parts.forEach((part, at) => {
          visit(
            part,
            new Set([
              ...before,
              ...own.filter((_, other) => other !== at).flatMap((each) => [...each]),
            ]),
          );
        });
        return new Set(own.flatMap((each) => [...each]));
      }
      default: {
        const own = new Set<number>();
        for (const part of step.parts)
          for (const at of visit(part, new Set([...before, ...own]))) own.add(at);
        return own;
      }
    }
  }

  visit(tree, new Set());
  return found;
}

/** Every pattern in a step, in the order in which they are written. */
export function eventsIn(step: StepTree): readonly HeldEvent[] {
  switch (step.kind) {
    case 'event':
      return [step.event];
    case 'loop':
      return eventsIn(step.part);
    default:
      return step.parts.flatMap(eventsIn);
  }
}

/** The events of a record that a sequence has to do with, in order, and the entries it cannot tell of. */
export function eventsFor(
  sequence: Sequence,
  entries: readonly JudgedEntry[],
  window: Window,
): { readonly events: readonly SequenceEvent[]; readonly undecided: readonly JudgedEntry[] } {
  const events: SequenceEvent[] = [];
  let begun: { readonly id: number; readonly class: EventClass } | undefined;
  const undecided = visitEvents(sequence, entries, window, (entry, tick, end, found) => {
    if (!end) {
      begun = { id: entry.id, class: found };
      events.push({ entry, tick, end, class: found, depends: endsToKnow(sequence, found.leaves) });
      return;
    }
    const by = begun?.id === entry.id ? begun.class.leaves : noLeaves;
    const { sure, depends } = endLeaves(sequence, found.leaves, by);
    events.push({ entry, tick, end, class: sequence.classOf(sure), depends });
  });
  if (sequence.leaves.some(isEnd)) events.sort((one, other) => one.tick - other.tick);
  return { events, undecided };
}

const noLeaves: ReadonlySet<number> = new Set();

/** The ends that have to know which of several leaves took a beginning. */
function endsToKnow({ beginnings }: Sequence, taking: ReadonlySet<number>): readonly number[] {
  if (taking.size < 2) return [];
  return beginnings.flatMap((own, at) => {
    const equal = [...taking].filter((leaf) => own.has(leaf));
    return equal.length > 0 && equal.length < taking.size ? [at] : [];
  });
}

/** Of the leaves that an end fits: those that surely take it, and those for which it depends on who took its beginning. */
function endLeaves(
  { beginnings }: Sequence,
  fitting: ReadonlySet<number>,
  begunBy: ReadonlySet<number>,
): { readonly sure: readonly number[]; readonly depends: readonly number[] } {
  const sure: number[] = [];
  const depends: number[] = [];
  for (const leaf of fitting) {
    const own = beginnings[leaf] ?? noLeaves;
    const equal = [...begunBy].filter((begin) => own.has(begin));
    if (own.size === 0 || (equal.length > 0 && equal.length === begunBy.size)) sure.push(leaf);
    else if (equal.length > 0) depends.push(leaf);
  }
  return { sure, depends };
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
  const undecided = visitEvents(sequence, entries, window, (_entry, _tick, _end, eventClass) => {
    state = advance(sequence, state, eventClass);
  });
  return undecided.length > 0 ? undefined : state.nullable;
}

/** Visits the events, entry by entry: a call's end right after its beginning. */
function visitEvents(
  { leaves, watched }: Sequence,
  entries: readonly JudgedEntry[],
  window: Window,
  visit: (entry: JudgedEntry, tick: number, end: boolean, eventClass: EventClass) => void,
): readonly JudgedEntry[] {
  const ofLabel = makeLookup(leaves, watched);
  const undecided = new Set<JudgedEntry>();

  function ask(entry: JudgedEntry, end: boolean, asked: Asked): void {
    const tick = end ? entry.ended : entry.began;
    if (tick === undefined || !within(window, tick)) return;
    const isCall = entry.kind === 'call' || entry.kind === 'construct';
    const found =
      isCall && asked.always !== undefined
        ? asked.always
        : asked.classOf(
            asked.numbers.filter((at) => fitsLeaf(leaves[at] as HeldEvent, entry, undecided)),
          );
    if (found !== undefined) visit(entry, tick, end, found);
  }

  for (const entry of entries) {
    const { begins, ends } = ofLabel(entry.label);
    if (begins !== undefined) ask(entry, false, begins);
    if (ends !== undefined) ask(entry, true, ends);
  }
  return [...undecided];
}

function fitsLeaf(leaf: HeldEvent, entry: JudgedEntry, undecided: Set<JudgedEntry>): boolean {
  const fit = eventFit(leaf, entry);
  if (fit === 'undecided') undecided.add(entry);
  return fit === 'fits';
}

/** What to ask of the beginnings, or of the ends, of a label's entries. */
interface Asked {
  /** The leaves that may take it. */
  readonly numbers: readonly number[];
  /** The class of a call, where nothing has to be asked of its arguments. */
  readonly always: EventClass | undefined;
  /** The class by the leaves that do take it; `undefined` where the event has no part in the sequence. */
  readonly classOf: (numbers: readonly number[]) => EventClass | undefined;
}

/** Finds what to ask of a label's entries, once for each label. */
function makeLookup(
  leaves: readonly HeldEvent[],
  watched: ReadonlySet<string>,
): (label: string) => { readonly begins: Asked | undefined; readonly ends: Asked | undefined } {
  const known = new Map<string, { begins: Asked | undefined; ends: Asked | undefined }>();
  const classes = new Map<string, EventClass>();

  function asked(label: string, end: boolean): Asked | undefined {
    const begins = end ? undefined : doubleOf(label, watched);
    const numbers = leaves.flatMap((leaf, at) =>
      memberOf(leaf).label === label && isEnd(leaf) === end ? [at] : [],
    );
    if (numbers.length === 0 && begins === undefined) return undefined;
    const classOf = (taking: readonly number[]): EventClass | undefined => {
      if (taking.length === 0 && begins === undefined) return undefined;
      const key = `${taking.join(',')}|${begins ?? ''}`;
      const found = classes.get(key) ?? { leaves: new Set(taking), begins };
      classes.set(key, found);
      return found;
    };
    const asksNothing = numbers.every((at) => takesEveryCall(leaves[at] as HeldEvent));
    return {
      numbers,
      always: asksNothing && numbers.length > 0 ? classOf(numbers) : undefined,
      classOf,
    };
  }

  return (label) => {
    const found = known.get(label) ?? { begins: asked(label, false), ends: asked(label, true) };
    known.set(label, found);
    return found;
  };
}

/** Whether a pattern takes every call of its member. */
function takesEveryCall(leaf: HeldEvent): boolean {
  return !isEnd(leaf) && leaf.of === 'call' && leaf.claimed === undefined;
}

/** The double of a label that is watched. */
function doubleOf(label: string, watched: ReadonlySet<string>): string | undefined {
  if (watched.size === 0) return undefined;
  for (const double of watched)
    if (label === double || label.startsWith(`${double}.`)) return double;
  return undefined;
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
    const left = advance(sequence, expression, sequence.classOf([...event.class.leaves, ...known]));
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
    states =
      next.length === 1 ? next : [...new Map(next.map((state) => [keyOf(state), state])).values()];
  }
  return { holds: states.some(({ expression }) => expression.nullable), failedAt: to, states };
}
