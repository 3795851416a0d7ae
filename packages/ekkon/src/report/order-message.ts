import type {
  InFlightDiagnosis,
  Moment,
  OrderDiagnosis,
  OrderProblem,
  PrecedenceDiagnosis,
  StretchData,
} from '../explain/finding.ts';
import { printRange } from '../pattern/multiplicity.ts';
import type { Entry, Outcome } from '../record/entry.ts';
import { grouped } from '../value/grouped.ts';
import { differencesInShort } from './difference-words.ts';
import { leastOf, named, namedWhole, noneOf, patternSaid, placed, timesOf } from './words.ts';

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
  return printProblems(problems)[0] ?? 'it came in another order';
}

/** What is wrong with an order, each in a sentence; what is wrong several times is told once: `…, twice`. */
export function printProblems(problems: readonly OrderProblem[]): readonly string[] {
  return [...grouped(problems.map(printProblem), (sentence) => sentence)].map(
    ([sentence, { length }]) => (length === 1 ? sentence : `${sentence}, ${timesOf(length)}`),
  );
}

function printProblem(problem: OrderProblem): string {
  switch (problem.kind) {
    case 'early':
      return `${cameWrong(problem.moment, 'too early')}${afterPart(problem.after)}`;
    case 'late':
      return `${cameWrong(problem.moment, 'too late')}${beforePart(problem.before)}`;
    case 'surplus':
      return problem.moment.end
        ? cameWrong(problem.moment, 'once too often')
        : `${namedWhole(problem.moment.entry)} is unexpected`;
    case 'missing':
      return problem.near === undefined || problem.branches.length > 1
        ? `${missingPart(problem)}${betweenPart(problem.after, problem.before)}`
        : `${named(problem.near.entry)}: ${differencesInShort(problem.near.differences)}`;
  }
}

/** `dome.close is missing`, `neither dome.close nor alarm.sound came`. */
function missingPart({ step, branches }: OrderProblem & { readonly kind: 'missing' }): string {
  if (branches.length < 2) return `${patternSaid(step)} is missing`;
  return `${noneOf(branches)} came`;
}

/** `#3 dome.open (night.ts:4) came too early`, `#2 mount.slewTo was fulfilled too late (night.ts:3)`. */
function cameWrong(moment: Moment, how: string): string {
  if (!moment.end) return `${namedMoment(moment)} came ${how}`;
  return `${printMoment(moment)} ${how}${placed(moment.entry.site)}`;
}

function afterPart(after: Moment | undefined): string {
  return after === undefined ? '' : `: expected after ${printMoment(after)}`;
}

function beforePart(before: Moment | undefined): string {
  return before === undefined ? '' : `: expected before ${namedMoment(before)}`;
}

function betweenPart(after: Moment | undefined, before: Moment | undefined): string {
  if (after !== undefined && before !== undefined)
    return ` between ${namedMoment(after)} and ${namedMoment(before)}`;
  if (after !== undefined) return ` after ${namedMoment(after)}`;
  return before === undefined ? '' : ` before ${namedMoment(before)}`;
}

export function precedenceMessage(diagnosis: PrecedenceDiagnosis): string {
  const { code, moments, needed, first, near } = diagnosis;
  const [moment] = moments;
  const who = moment === undefined ? 'it' : namedMoment(moment);
  const least = leastOf(diagnosis);
  const more = moments.length > 1 ? `, and ${least}${moments.length - 1} more` : '';
  const pattern = patternSaid(needed);
  if (near !== undefined) return `${named(near.entry)}: ${differencesInShort(near.differences)}`;
  if (code === 'neverFollowed') return `${pattern} never came after ${who}${more}`;
  if (first !== undefined && first.entry.id === moment?.entry.id && first.end === moment.end)
    return `${who}${more} came without an earlier ${pattern}`;
  return first === undefined
    ? `${who}${more} came, and ${pattern} never did`
    : `${who}${more} came before ${namedMoment(first)}, expected after it`;
}

export function inFlightMessage({ peak, range, underWay }: InFlightDiagnosis): string {
  const last = underWay.at(-1);
  if (last === undefined) return `no call was under way, expected ${printRange(range)} at a time`;
  const others = underWay.length - 1;
  const during =
    others === 0
      ? ''
      : ` while ${others === 1 ? printMoment({ entry: underWay[0] as Entry, end: false }) : `${others} others`} ${others === 1 ? 'was' : 'were'} under way`;
  return `${namedMoment({ entry: last, end: false })} began${during}: ${peak} at a time, expected ${printRange(range)}`;
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
