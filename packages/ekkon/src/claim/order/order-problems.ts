import type { Edit } from '../../explain/cheapest-edit.ts';
import type { NearEntry } from '../../explain/diagnosis.ts';
import type { Moment, OrderProblem } from '../../explain/finding.ts';
import { nearEntry, nearestFirst } from '../../explain/nearest.ts';
import { callsOf, type HeldEvent, targetOf } from '../../pattern/event.ts';
import { eventFit, speaksOf } from '../../pattern/fit.ts';
import { entryData } from '../../record/entry-data.ts';
import type { HeldEntry } from '../../record/journal.ts';
import { firstPlace } from '../../value/first-place.ts';
import { printsAs } from '../../value/prints-as.ts';
import type { View } from '../parts.ts';
import type { Sequence } from './sequence.ts';
import type { SequenceEvent } from './sequence-state.ts';
import { branchesWith, type StepTree } from './step-tree.ts';

/** The problems, from the edits: a missing leaf and an unexpected event that matches it are one event out of place. */
export function problemsOf(
  { leaves }: Sequence,
  tree: StepTree,
  events: readonly SequenceEvent[],
  from: number,
  edits: readonly Edit[],
  entries: readonly HeldEntry[],
  toBlame: View['toBlame'],
): readonly OrderProblem[] {
  const moment = (at: number | undefined): Moment | undefined => {
    const event = at === undefined ? undefined : events[at];
    return event === undefined ? undefined : { entry: entryData(event.entry), end: event.end };
  };
  const taken = edits.flatMap((edit) =>
    edit.kind === 'taken' && events[edit.at]?.fits.length !== 0 ? [edit.at] : [],
  );
  const { gaps, surplus } = gapsIn(edits, taken, from);
  const named = new Set<number>();
  // One call cannot be what two steps expect.
  const isLeft: View['toBlame'] = (near, event) =>
    toBlame(near, event).filter(({ id }) => !named.has(id));
  const stepsBeside = (gap: Unmet) =>
    gaps.flatMap(({ leaf, after, before }) =>
      after === gap.after && before === gap.before ? (leaves[leaf] ?? []) : [],
    );
  const found = gaps.map((gap): OrderProblem => {
    const { leaf, after, before } = gap;
    const step = leaves[leaf]?.[printsAs] ?? '';
    const between = { step, leaf, after: moment(after), before: moment(before) };
    const isInside = (at: number) => at > (after ?? -1) && at < (before ?? events.length);
    const event = leaves[leaf];
    const calls = event === undefined ? [] : wrongCalls(event, gap, entries, events);
    const near =
      event &&
      (nearestFirst(event, isLeft(calls, event), entries)[0] ??
        counterpart(event, toBlame(calls, event), stepsBeside(gap)));
    if (near !== undefined) named.add(near.entry.id);
    // A call of the member that came in its place has wrong arguments, even if it has those of another step.
    const instead = surplus.findIndex(
      (at) => isInside(at) && events[at]?.entry.id === near?.entry.id,
    );
    if (instead >= 0) surplus.splice(instead, 1);
    // The event that came where it was missing was not taken for another reason.
    const isOther = (at: number) => !isInside(at) && events[at]?.fits.includes(leaf) === true;
    const other = instead >= 0 ? -1 : surplus.findIndex(isOther);
    const [unwanted] = other < 0 ? [] : surplus.splice(other, 1);
    const misplaced =
      unwanted === undefined
        ? undefined
        : firstOfShift(events, taken, { at: unwanted, after, before });
    if (misplaced === undefined) {
      return {
        kind: 'missing',
        ...between,
        branches: branchesWith(tree, leaves[leaf]).map((branch) => branch[printsAs]),
        near,
      };
    }
    return {
      kind: isLate(misplaced) ? 'late' : 'early',
      moment: moment(misplaced.at) as Moment,
      step,
      leaf,
      after: moment(misplaced.after),
      before: moment(misplaced.before),
    };
  });
  const problems = besideWrong(found);
  for (const at of surplus) {
    const extra = moment(at);
    if (extra !== undefined) problems.push({ kind: 'surplus', moment: extra });
  }
  return problems.sort(
    (one, other) => whenOf(one) - whenOf(other) || rank[one.kind] - rank[other.kind],
  );
}

/** The problems: a step that is missing beside calls that went wrong belongs before or after these, as the steps do. */
function besideWrong(problems: readonly OrderProblem[]): OrderProblem[] {
  return problems.map((problem, at) => {
    if (problem.kind !== 'missing' || problem.near !== undefined) return problem;
    const wrong = (others: readonly OrderProblem[]) =>
      others.flatMap((other): Moment[] => {
        if (other.kind !== 'missing' || other.near === undefined) return [];
        const isBeside = isSame(other.after, problem.after) && isSame(other.before, problem.before);
        return isBeside ? [{ entry: other.near.entry, end: false }] : [];
      });
    const after = wrong(problems.slice(0, at)).at(-1) ?? problem.after;
    const before = wrong(problems.slice(at + 1))[0] ?? problem.before;
    const isInOrder = (after?.entry.id ?? 0) < (before?.entry.id ?? Number.POSITIVE_INFINITY);
    return isInOrder ? { ...problem, after, before } : problem;
  });
}

function isSame(one: Moment | undefined, other: Moment | undefined): boolean {
  return one?.entry.id === other?.entry.id && one?.end === other?.end;
}

/** An event at a place, and those between which it belongs. */
interface Misplaced {
  readonly at: number;
  readonly after: number | undefined;
  readonly before: number | undefined;
}

function isLate({ at, before }: Misplaced): boolean {
  return before !== undefined && at > before;
}

/**
 * An event that is to move past others like it may as well take the place of the next of these, which takes the place of
 * the one after: the first of these moves. If all come too late, that is the one beside the gap.
 */
function firstOfShift(
  events: readonly SequenceEvent[],
  taken: readonly number[],
  misplaced: Misplaced,
): Misplaced {
  const { at, after = -1, before = Number.POSITIVE_INFINITY } = misplaced;
  const isAlike = (place: number) =>
    events[place]?.end === events[at]?.end &&
    events[place]?.fits.join() === events[at]?.fits.join();
  if (isLate(misplaced)) {
    const nearest = taken.find((place) => place >= before && place < at && isAlike(place));
    return { ...misplaced, at: nearest ?? at };
  }
  const next = taken.find((place) => place > at && place <= after && isAlike(place));
  if (next === undefined) return misplaced;
  return {
    at,
    after: taken.findLast((place) => place < next),
    before: taken.find((place) => place > next),
  };
}

/** The order of problems with one event. */
const rank = { early: 0, late: 0, surplus: 1, missing: 2 };

/** Where a problem stands in the record: at its culprit, or where a step has to have come at the latest. */
function whenOf(problem: OrderProblem): number {
  if (problem.kind !== 'missing') return problem.moment.entry.id;
  return (problem.near ?? problem.before)?.entry.id ?? Number.POSITIVE_INFINITY;
}

/** A leaf that nothing met, between the events that were taken on either side of it. */
interface Unmet {
  readonly leaf: number;
  readonly after: number | undefined;
  readonly before: number | undefined;
}

function gapsIn(
  edits: readonly Edit[],
  taken: readonly number[],
  from: number,
): { readonly gaps: readonly Unmet[]; readonly surplus: number[] } {
  const gaps: Unmet[] = [];
  const surplus: number[] = [];
  let place = from;
  for (const edit of edits) {
    if (edit.kind === 'missing') {
      const before = taken.find((at) => at >= place);
      gaps.push({ leaf: edit.leaf, after: taken.findLast((at) => at < place), before });
      continue;
    }
    place = edit.at + 1;
    if (edit.kind === 'surplus') surplus.push(edit.at);
  }
  return { gaps, surplus };
}

/** The calls of a step's member between the events around it, which do not fit it. */
function wrongCalls(
  event: HeldEvent,
  { after, before }: Unmet,
  entries: readonly HeldEntry[],
  events: readonly SequenceEvent[],
): readonly HeldEntry[] {
  const start = (after === undefined ? undefined : events[after]?.entry.id) ?? 0;
  const end =
    (before === undefined ? undefined : events[before]?.entry.id) ?? Number.POSITIVE_INFINITY;
  const first = firstPlace(entries, ({ id }) => id > start);
  const last = firstPlace(entries, ({ id }) => id >= end, first);
  return entries
    .slice(first, Math.min(last, first + placesSearched))
    .filter((entry) => speaksOf(callsOf(event), entry) && eventFit(event, entry) === 'differs');
}

/**
 * The call that stands for a missing step where as many came as steps are missing, two or more: each has gone wrong,
 * however little it is like what is expected.
 *
 * @param steps those that are missing at its place, itself among them
 */
function counterpart(
  event: HeldEvent,
  calls: readonly HeldEntry[],
  steps: readonly HeldEvent[],
): NearEntry | undefined {
  const own = steps.filter((step) => targetOf(step) === targetOf(event));
  if (own.length < 2 || own.length !== calls.length) return undefined;
  const isWrong = (entry: HeldEntry) => own.every((step) => eventFit(step, entry) === 'differs');
  const entry = calls[own.indexOf(event)];
  return entry !== undefined && calls.every(isWrong) ? nearEntry(event, entry) : undefined;
}

/** How many entries of a gap are looked at. */
const placesSearched = 10_000;

export function culpritsOf(problem: OrderProblem): readonly number[] {
  if (problem.kind !== 'missing') return [problem.moment.entry.id];
  if (problem.near !== undefined) return [problem.near.entry.id];
  const beside = problem.before ?? problem.after;
  return beside === undefined ? [] : [beside.entry.id];
}
