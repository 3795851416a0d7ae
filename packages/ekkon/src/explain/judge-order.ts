import { holdsAtOnce, runSequence } from '../claim/order/run-sequence.ts';
import { compileSequence } from '../claim/order/sequence.ts';
import { eventsFor, type SequenceEvent } from '../claim/order/sequence-events.ts';
import type { HeldOrder } from '../claim/order/steps.ts';
import type { Entry } from '../record/entry.ts';
import { entryData } from '../record/recording.ts';
import { cheapestEdit, type Edit } from './cheapest-edit.ts';
import type { Diagnosis, OrderDiagnosis, OrderProblem } from './finding.ts';
import { culpritsOf, problemsOf } from './order-problems.ts';
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
