import { type Acceptor, cheapestEdit, type Edit } from '../../explain/cheapest-edit.ts';
import { aboutClaim } from '../../explain/diagnosis.ts';
import type { OrderDiagnosis, OrderProblem } from '../../explain/finding.ts';
import { type Window, within } from '../../explain/window.ts';
import { sameValues } from '../../match/same-value.ts';
import { isAtEnd } from '../../pattern/event.ts';
import { makeEventMatcher } from '../../pattern/event-matcher.ts';
import type { Entry } from '../../record/entry.ts';
import { entryData } from '../../record/entry-data.ts';
import { eventsOf } from '../../record/events.ts';
import type { HeldEntry, Journal } from '../../record/journal.ts';
import { isMark } from '../../record/mark.ts';
import { printsAs } from '../../value/prints-as.ts';
import type { View } from '../parts.ts';
import { culpritsOf, problemsOf } from './order-problems.ts';
import type { Sequence } from './sequence.ts';
import {
  accepts,
  keyOf,
  nextOf,
  nextStates,
  possibleNext,
  type SequenceEvent,
  type SequenceState,
  startOf,
} from './sequence-state.ts';
import type { HeldOrder } from './steps.ts';

/** How far around the failure an explanation is looked for, in events. */
export const reach = 300;

/** How many events back a repetition is looked for. */
const repeatsSought = 14;

/** How many entries the picture shows. */
const lanesShown = 14;

/** Why a sequence does not hold, by the fewest events that are missing, too many or out of place. */
export function explainOrder(
  claim: HeldOrder,
  { evidence, window, toBlame }: View,
): OrderDiagnosis | undefined {
  const sequence = claim.sequence();
  const until = evidence.until?.(claim) ?? window.before;
  const goesOn = until < window.before;
  const known = goesOn ? { after: window.after, before: until + 1 } : window;
  const events = eventsFor(sequence, evidence.journal, known);
  const { holds, failedAt } = runSequence(sequence, events, events.length);
  if (holds) return undefined;
  const from = Math.max(0, failedAt - reach);
  const to = Math.min(events.length, failedAt + reach);
  const { states } = runSequence(sequence, events, from);
  const acceptor = acceptorOf(sequence, events);
  // Nothing is missing at the end of a part: it may come later.
  const length = goesOn ? Number.POSITIVE_INFINITY : events.length;
  const found = cheapestEdit({ ...acceptor, length }, from, to, states);
  const edits = found?.edits ?? [
    { kind: 'surplus' as const, at: Math.min(failedAt, events.length - 1) },
  ];
  const { entries } = evidence.journal;
  const problems = problemsOf(sequence, claim.tree, events, from, edits, entries, toBlame);
  const culprits = [...new Set(problems.flatMap(culpritsOf))];
  const around = lanesFor(events, from, edits, problems);
  return {
    code: 'outOfOrder',
    ...aboutClaim(claim),
    culprits,
    at: around.find(({ id }) => id === culprits[0])?.site,
    problems,
    whole: found?.whole ?? false,
    lanes: around,
    leftOut: Math.max(0, new Set(events.map(({ entry }) => entry.id)).size - around.length),
    instead: insteadOf(claim, events, problems),
  };
}

/** The claim that may be meant if the only fault of a sequence is that its steps come more than once. */
function insteadOf(
  claim: HeldOrder,
  events: readonly SequenceEvent[],
  problems: readonly OrderProblem[],
): OrderDiagnosis['instead'] {
  const sequence = claim.sequence();
  const { leaves } = sequence;
  if (
    problems.some(({ kind }) => kind !== 'surplus') ||
    events.some(({ fits }) => fits.length === 0)
  )
    return undefined;
  const steps = leaves.map((leaf) => leaf[printsAs]);
  if (isRepeated(sequence, events)) return { is: 'loop', steps };
  const { tree } = claim;
  const isPlain = tree.kind === 'then' && tree.parts.length === leaves.length && leaves.length > 1;
  const came = new Set<number>();
  const areAfter = events.every(({ fits }) => {
    const isFine = fits.every((leaf) => leaf === 0 || came.has(leaf - 1));
    for (const leaf of fits) came.add(leaf);
    return isFine;
  });
  return isPlain && areAfter && came.size === leaves.length
    ? { is: 'onlyAfter', steps }
    : undefined;
}

/** Whether events are a sequence several times, one after the other. */
function isRepeated(sequence: Sequence, events: readonly SequenceEvent[]): boolean {
  const start = startOf(sequence);
  if (accepts(start)) return false;
  let states = start;
  for (const event of events) {
    const going = nextOf(sequence, states, event);
    const again = accepts(states) ? nextOf(sequence, start, event) : [];
    states = [...going, ...again];
    if (states.length === 0) return false;
  }
  return accepts(states);
}

/** The events of a record that a sequence hears in a stretch, in order. */
export function eventsFor(
  sequence: Sequence,
  journal: Journal,
  window: Window,
): readonly SequenceEvent[] {
  const { leaves, watched } = sequence;
  const matches = makeEventMatcher(leaves);
  const heard: SequenceEvent[] = [];
  eventsOf(journal).forEach((entry, at) => {
    const tick = at + 1;
    if (entry === undefined || isMark(entry) || !within(window, tick)) return;
    const end = entry.began !== tick;
    if (end && entry.began <= window.after) return;
    const { fits } = matches(entry, end);
    if (fits.length > 0 || (!end && watched.has(entry.target.double)))
      heard.push({ entry, end, fits });
  });
  return heard;
}

/** Runs a sequence over events; if it fails, at which event, and in which states it can be before one. */
function runSequence(
  sequence: Sequence,
  events: readonly SequenceEvent[],
  to: number,
): {
  readonly holds: boolean;
  readonly failedAt: number;
  readonly states: readonly SequenceState[];
} {
  let states = startOf(sequence);
  for (let at = 0; at < to; at++) {
    const next = nextOf(sequence, states, events[at] as SequenceEvent);
    if (next.length === 0) return { holds: false, failedAt: at, states };
    states = next;
  }
  return { holds: accepts(states), failedAt: to, states };
}

/** A sequence as the search for an explanation sees it. */
export function acceptorOf(
  sequence: Sequence,
  events: readonly SequenceEvent[],
): Acceptor<SequenceState> {
  const { leaves } = sequence;
  const repeated: (boolean | undefined)[] = [];
  return {
    length: events.length,
    isEnd: (at) => events[at]?.end ?? false,
    next: (state, at) => nextStates(sequence, state, events[at] as SequenceEvent),
    missing: (state) =>
      possibleNext(sequence, state).map(({ leaf, left }) => {
        const event = leaves[leaf];
        return { leaf, end: event !== undefined && isAtEnd(event), left };
      }),
    accepts: ({ expression }) => expression.nullable,
    repeats(at) {
      repeated[at] ??= repeatsAt(events, at);
      return repeated[at];
    },
    fits: (at, leaf) => events[at]?.fits.includes(leaf) === true,
    keyOf,
  };
}

/** Whether an event is the latest one of its member once more. */
function repeatsAt(events: readonly SequenceEvent[], at: number): boolean {
  const event = events[at] as SequenceEvent;
  const isAlike = ({ entry, end }: SequenceEvent) =>
    entry.target === event.entry.target && end === event.end;
  const before = events.slice(Math.max(0, at - repeatsSought), at).findLast(isAlike);
  return before !== undefined && sameValues(before.entry.args, event.entry.args);
}

/** The entries that the problems name, and those next to them, in order. */
function lanesFor(
  events: readonly SequenceEvent[],
  from: number,
  edits: readonly Edit[],
  problems: readonly OrderProblem[],
): readonly Entry[] {
  const named = new Set<number>();
  for (const problem of problems.slice(0, 3)) {
    if (problem.kind !== 'missing') named.add(problem.moment.entry.id);
    else if (problem.near !== undefined) named.add(problem.near.entry.id);
    if (problem.kind !== 'surplus')
      for (const beside of [problem.after, problem.before])
        if (beside !== undefined) named.add(beside.entry.id);
  }
  let place = from;
  for (const edit of edits) {
    if (edit.kind !== 'missing') place = edit.at + 1;
    if (edit.kind === 'taken') continue;
    for (const event of events.slice(Math.max(0, place - 3), place + 2)) {
      if (named.size < lanesShown) named.add(event.entry.id);
    }
  }
  const shown = new Map<number, Entry>(nearEntries(problems).map((entry) => [entry.id, entry]));
  const isNamed = ({ id }: HeldEntry) => named.has(id) && !shown.has(id);
  for (const { entry } of events) if (isNamed(entry)) shown.set(entry.id, entryData(entry));
  return [...shown.values()]
    .filter(({ id }) => named.has(id))
    .sort((one, other) => one.id - other.id)
    .slice(0, lanesShown);
}

function nearEntries(problems: readonly OrderProblem[]): readonly Entry[] {
  return problems.flatMap((problem) =>
    problem.kind === 'missing' && problem.near !== undefined ? [problem.near.entry] : [],
  );
}
