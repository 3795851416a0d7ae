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
}

/** An event that the sequence has to do with. */
export interface SequenceEvent {
  readonly entry: JudgedEntry;
  readonly tick: number;
  readonly end: boolean;
  readonly class: EventClass;
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
  return { expressions, start, leaves, watched, alone };
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
  const undecided = visitEvents(sequence, entries, window, (entry, tick, end, eventClass) => {
    events.push({ entry, tick, end, class: eventClass });
  });
  if (sequence.leaves.some(isEnd)) events.sort((one, other) => one.tick - other.tick);
  return { events, undecided };
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

/** One more event: what is left of the expression. What fits no leaf only goes by. */
export function advance(
  { expressions }: Sequence,
  state: Expression,
  event: EventClass,
): Expression {
  return event.leaves.size === 0
    ? expressions.pass(state, event)
    : expressions.derive(state, event);
}

/** Runs a sequence over events; where it fails, at which event, and in what state it was before. */
export function runSequence(
  sequence: Sequence,
  events: readonly SequenceEvent[],
): { readonly holds: boolean; readonly failedAt: number } {
  const { fail } = sequence.expressions;
  let state = sequence.start;
  for (let at = 0; at < events.length; at++) {
    state = advance(sequence, state, (events[at] as SequenceEvent).class);
    if (state === fail) return { holds: false, failedAt: at };
  }
  return { holds: state.nullable, failedAt: events.length };
}
