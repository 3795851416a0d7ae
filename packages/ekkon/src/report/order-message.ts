import type {
  InFlightDiagnosis,
  Moment,
  OrderDiagnosis,
  OrderProblem,
  PrecedenceDiagnosis,
  StretchData,
} from '../explain/finding.ts';
import { printRange } from '../pattern/multiplicity.ts';
import type { Outcome } from '../record/entry.ts';
import { printDifference } from './difference-words.ts';
import { noneOf, placed } from './words.ts';

/** An event in words: `#2 mount.slewTo was fulfilled`. */
export function printMoment({ entry, end }: Moment): string {
  const call = `#${entry.id} ${entry.label}`;
  return end ? `${call} ${endWords[entry.outcome.state]}` : call;
}

const endWords: Readonly<Record<Outcome['state'], string>> = {
  running: 'is running',
  pending: 'is pending',
  returned: 'returned',
  threw: 'threw',
  fulfilled: 'was fulfilled',
  rejected: 'was rejected',
};

/** The event with its line, as a sentence's subject. */
export function namedMoment(moment: Moment): string {
  return `${printMoment(moment)}${placed(moment.entry.site)}`;
}

export function orderMessage({ problems }: OrderDiagnosis): string {
  const [first] = problems;
  const rest = problems.length > 1 ? `; and ${problems.length - 1} more` : '';
  return first === undefined ? 'it came in another order' : `${printProblem(first)}${rest}`;
}

/** One thing that is wrong with an order, in a sentence. */
export function printProblem(problem: OrderProblem): string {
  switch (problem.kind) {
    case 'early':
      return `${cameWrong(problem.moment, 'too early')}${afterPart(problem.after)}`;
    case 'late':
      return `${cameWrong(problem.moment, 'too late')}${beforePart(problem.before)}`;
    case 'surplus':
      return problem.moment.end
        ? cameWrong(problem.moment, 'once too often')
        : `${namedMoment(problem.moment)} is one too many`;
    case 'missing':
      return problem.near === undefined || problem.branches.length > 1
        ? `${missingPart(problem)}${betweenPart(problem.after, problem.before)}`
        : `${problem.step} is missing; in its place is ${namedMoment({ entry: problem.near.entry, end: false })}: ${problem.near.differences.slice(0, 2).map(printDifference).join('; ')}`;
  }
}

/** `dome.close is missing`, `neither dome.close nor alarm.sound came`. */
function missingPart({ step, branches }: OrderProblem & { readonly kind: 'missing' }): string {
  if (branches.length < 2) return `${step} is missing`;
  return `${noneOf(branches)} came`;
}

/** `#3 dome.open (night.ts:4) came too early`, `#2 mount.slewTo was fulfilled too late (night.ts:3)`. */
function cameWrong(moment: Moment, how: string): string {
  if (!moment.end) return `${namedMoment(moment)} came ${how}`;
  return `${printMoment(moment)} ${how}${placed(moment.entry.site)}`;
}

function afterPart(after: Moment | undefined): string {
  return after === undefined ? '' : `: it had to come after ${printMoment(after)}`;
}

function beforePart(before: Moment | undefined): string {
  return before === undefined ? '' : `: it had to come before ${namedMoment(before)}`;
}

function betweenPart(after: Moment | undefined, before: Moment | undefined): string {
  if (after !== undefined && before !== undefined)
    return ` between ${printMoment(after)} and ${namedMoment(before)}`;
  if (after !== undefined) return ` after ${namedMoment(after)}`;
  return before === undefined ? '' : ` before ${namedMoment(before)}`;
}

export function precedenceMessage({ code, moments, needed, first }: PrecedenceDiagnosis): string {
  const [moment] = moments;
  const who = moment === undefined ? '' : namedMoment(moment);
  const more = moments.length > 1 ? ` (and ${moments.length - 1} more)` : '';
  if (code === 'neverFollowed') return `${who} was never followed by ${needed}${more}`;
  return first === undefined
    ? `${who} came, and ${needed} never did${more}`
    : `${who} came before ${namedMoment(first)}${more}`;
}

export function inFlightMessage({ peak, range, underWay, tick }: InFlightDiagnosis): string {
  const last = underWay[underWay.length - 1];
  const who =
    last === undefined ? '' : `; the last to begin was ${namedMoment({ entry: last, end: false })}`;
  return `${peak} under way at tick ${tick}, ${printRange(range)} claimed${who}`;
}

/** The stretch in which a claim was judged. */
export function printStretch({ after, before, from }: StretchData): string {
  const start =
    from === undefined
      ? Number.isFinite(after)
        ? `tick ${after}`
        : 'the start'
      : `${namedMoment({ entry: from, end: false })}, tick ${after},`;
  return `in the stretch from ${start} to ${Number.isFinite(before) ? `tick ${before}` : 'the end'}`;
}
