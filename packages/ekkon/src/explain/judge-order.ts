import { callsOf, eventDifferences, eventFit, type HeldEvent } from '../claim/event.ts';
import {
  compileSequence,
  eventsFor,
  holdsAtOnce,
  runSequence,
  type Sequence,
  type SequenceEvent,
} from '../claim/order/sequence.ts';
import type { HeldOrder } from '../claim/order/steps.ts';
import { type JudgedEntry, speaksOf } from '../claim/pattern.ts';
import { type Difference, distanceOf } from '../match/difference.ts';
import type { Entry } from '../record/entry.ts';
import { printsAs } from '../record/prints-as.ts';
import { entryData } from '../record/recording.ts';
import { cheapestEdit, type Edit } from './cheapest-edit.ts';
import type { Diagnosis, Moment, OrderDiagnosis, OrderProblem } from './finding.ts';
import type { View } from './view.ts';

/** How far around the failure an explanation is looked for, in events. */
const reach = 300;

/** How many entries the picture shows. */
const lanesShown = 14;

/** Judges a sequence, and explains it where it does not hold. */
export function judgeOrder(claim: HeldOrder, { record, window }: View): Diagnosis | undefined {
  const sequence = compileSequence(claim.tree);
  if (holdsAtOnce(sequence, record.entries, window) === true) return undefined;
  const { events, undecided } = eventsFor(sequence, record.entries, window);
  const { holds, failedAt } = runSequence(sequence, events);
  if (holds && undecided.length === 0) return undefined;
  const from = Math.max(0, failedAt - reach);
  const to = Math.min(events.length, failedAt + reach);
  const found = cheapestEdit(
    sequence,
    events,
    from,
    to,
    runSequence(sequence, events, from).states,
  );
  const edits = found?.edits ?? [
    { kind: 'surplus' as const, at: Math.min(failedAt, events.length - 1) },
  ];
  const problems = problemsOf(sequence, events, from, edits, record.entries);
  const culprits = [
    ...new Set([...problems.flatMap(culpritsOf), ...undecided.map(({ id }) => id)]),
  ];
  const around = lanesFor(events, from, edits, problems);
  return {
    code: 'outOfOrder',
    claim: claim.notation,
    culprits,
    at: around.find(({ id }) => id === culprits[0])?.site,
    problems,
    whole: found?.whole ?? false,
    undecided: undecided.map(entryData),
    lanes: around,
    leftOut: Math.max(0, new Set(events.map(({ entry }) => entry.id)).size - around.length),
  } satisfies OrderDiagnosis;
}

/** What is wrong, from the edits: a leaf missing and an event too many that would meet it are one out of place. */
function problemsOf(
  { leaves }: Sequence,
  events: readonly SequenceEvent[],
  from: number,
  edits: readonly Edit[],
  entries: readonly JudgedEntry[],
): readonly OrderProblem[] {
  const moment = (at: number | undefined): Moment | undefined => {
    const event = at === undefined ? undefined : events[at];
    return event === undefined ? undefined : { entry: entryData(event.entry), end: event.end };
  };
  const taken = edits.flatMap((edit) =>
    edit.kind === 'taken' && isPlaced(events[edit.at] as SequenceEvent) ? [edit.at] : [],
  );
  const gaps: { leaf: number; after: number | undefined; before: number | undefined }[] = [];
  const surplus: number[] = [];
  let place = from;
  for (const edit of edits) {
    if (edit.kind === 'missing') {
      gaps.push({
        leaf: edit.leaf,
        after: taken.findLast((at) => at < place),
        before: taken.find((at) => at >= place),
      });
    } else {
      place = edit.at + 1;
      if (edit.kind === 'surplus') surplus.push(edit.at);
    }
  }
  const problems: OrderProblem[] = [];
  for (const { leaf, after, before } of gaps) {
    const step = leaves[leaf]?.[printsAs] ?? '';
    const [after1, before1] = [moment(after), moment(before)];
    const other = surplus.findIndex((at) => mayMeet(events[at] as SequenceEvent, leaf));
    const [at] = other < 0 ? [] : surplus.splice(other, 1);
    const misplaced = moment(at);
    if (misplaced === undefined || at === undefined) {
      const near = nearIn(leaves[leaf], entries, events, after, before);
      problems.push({ kind: 'missing', step, after: after1, before: before1, near });
    } else
      problems.push({
        kind: before !== undefined && at > before ? 'late' : 'early',
        moment: misplaced,
        step,
        after: after1,
        before: before1,
      });
  }
  for (const at of surplus) {
    const extra = moment(at);
    if (extra !== undefined) problems.push({ kind: 'surplus', moment: extra });
  }
  const rank = { early: 0, late: 0, surplus: 1, missing: 2 };
  return problems.sort((one, other) => rank[one.kind] - rank[other.kind]);
}

/** Whether an event is one that the sequence finds a place for, and does not only go by. */
function isPlaced({ class: { leaves }, depends, end }: SequenceEvent): boolean {
  return leaves.size > 0 || (end && depends.length > 0);
}

function mayMeet({ class: { leaves }, depends, end }: SequenceEvent, leaf: number): boolean {
  return leaves.has(leaf) || (end && depends.includes(leaf));
}

/** The call of a leaf's member between two events that comes nearest to it, though it does not fit. */
function nearIn(
  leaf: HeldEvent | undefined,
  entries: readonly JudgedEntry[],
  events: readonly SequenceEvent[],
  after: number | undefined,
  before: number | undefined,
): { readonly entry: Entry; readonly differences: readonly Difference[] } | undefined {
  if (leaf === undefined) return undefined;
  const start = (after === undefined ? undefined : events[after]?.entry.id) ?? 0;
  const end = (before === undefined ? undefined : events[before]?.entry.id) ?? entries.length + 1;
  let nearest: { entry: Entry; differences: readonly Difference[] } | undefined;
  // Ids are places in the record, from 1: what lies between the two need not be searched for.
  for (const entry of entries.slice(start, Math.min(end, start + placesSearched) - 1)) {
    if (!speaksOf(callsOf(leaf), entry) || eventFit(leaf, entry) !== 'differs') continue;
    const differences = eventDifferences(leaf, entry);
    if (nearest === undefined || distanceOf(differences) < distanceOf(nearest.differences)) {
      nearest = { entry: entryData(entry), differences };
    }
  }
  return nearest;
}

/** How many entries of a gap are looked at. */
const placesSearched = 10_000;

function culpritsOf(problem: OrderProblem): readonly number[] {
  if (problem.kind !== 'missing') return [problem.moment.entry.id];
  if (problem.near !== undefined) return [problem.near.entry.id];
  const beside = problem.before ?? problem.after;
  return beside === undefined ? [] : [beside.entry.id];
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
  const all = [...events.map(({ entry }) => entry), ...nearEntries(problems)];
  const shown = new Map(all.filter(({ id }) => named.has(id)).map((entry) => [entry.id, entry]));
  return [...shown.values()]
    .sort((one, other) => one.id - other.id)
    .slice(0, lanesShown)
    .map(entryData);
}

function nearEntries(problems: readonly OrderProblem[]): readonly Entry[] {
  return problems.flatMap((problem) =>
    problem.kind === 'missing' && problem.near !== undefined ? [problem.near.entry] : [],
  );
}
