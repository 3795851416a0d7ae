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
  return { expressions, start, leaves, watched };
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
  { leaves, watched }: Sequence,
  entries: readonly JudgedEntry[],
  window: Window,
): { readonly events: readonly SequenceEvent[]; readonly undecided: readonly JudgedEntry[] } {
  const byLabel = new Map<string, number[]>();
  leaves.forEach((leaf, at) => {
    const { label } = memberOf(leaf);
    byLabel.set(label, [...(byLabel.get(label) ?? []), at]);
  });
  const classes = new Map<string, EventClass>();
  const events: SequenceEvent[] = [];
  const undecided = new Set<JudgedEntry>();

  function add(entry: JudgedEntry, end: boolean, candidates: readonly number[]): void {
    const tick = end ? entry.ended : entry.began;
    if (tick === undefined || !within(window, tick)) return;
    let key = '';
    for (const at of candidates) {
      const leaf = leaves[at] as HeldEvent;
      if (isEnd(leaf) !== end) continue;
      const fit = eventFit(leaf, entry);
      if (fit === 'fits') key += `${at},`;
      else if (fit === 'undecided') undecided.add(entry);
    }
    const double = doubleOf(entry.label, watched);
    if (key === '' && (end || double === undefined)) return;
    events.push({ entry, tick, end, class: classFor(classes, key, end ? undefined : double) });
  }

  const hasEnds = leaves.some(isEnd);
  for (const entry of entries) {
    const candidates = byLabel.get(entry.label);
    if (candidates === undefined && watched.size === 0) continue;
    add(entry, false, candidates ?? none);
    if (hasEnds && candidates !== undefined) add(entry, true, candidates);
  }
  if (hasEnds) events.sort((one, other) => one.tick - other.tick);
  return { events, undecided: [...undecided] };
}

const none: readonly number[] = [];

function classFor(
  classes: Map<string, EventClass>,
  leaves: string,
  begins: string | undefined,
): EventClass {
  const key = begins === undefined ? leaves : `${leaves}|${begins}`;
  const known = classes.get(key);
  if (known !== undefined) return known;
  const numbers = leaves
    .split(',')
    .filter((each) => each !== '')
    .map(Number);
  const made: EventClass = { key, leaves: new Set(numbers), begins };
  classes.set(key, made);
  return made;
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
