import type {
  InFlightDiagnosis,
  Moment,
  OrderDiagnosis,
  OrderProblem,
  PrecedenceDiagnosis,
  UndecidedOrderDiagnosis,
} from '../explain/finding.ts';
import type { Entry } from '../record/entry.ts';
import { type Block, faint, leftOut } from './block.ts';
import { noteKey } from './lanes.ts';
import { clip } from './layout.ts';
import {
  inFlightMessage,
  orderMessage,
  precedenceMessage,
  printMoment,
  printProblems,
} from './order-message.ts';
import { leastOf, printTime, type Words } from './words.ts';

/** How many problems, and entries of one kind, are told before the rest is counted. */
const toldMost = 6;

export const orderWords: Words<OrderDiagnosis> = {
  message: orderMessage,
  blocks: orderBlocks,
  order({ problems }) {
    for (const problem of problems) {
      if (problem.kind === 'early') return [problem.after, problem.moment];
      if (problem.kind === 'late') return [problem.moment, problem.before];
    }
    return [];
  },
};

export const undecidedOrderWords: Words<UndecidedOrderDiagnosis> = {
  message({ between: [one, other], apart, skew }) {
    const time = apart < 1 ? 'less than 1 ms' : printTime(apart);
    return `it depends on the order of ${printMoment(one)} and ${printMoment(other)}, which is not known: they are ${time} apart on two machines, and less than ${printTime(skew)} says nothing (--skew)`;
  },
  blocks: ({ between }) => [
    { is: 'lanes', entries: unique(between.map(({ entry }) => entry)), notes: new Map() },
  ],
};

export const precedenceWords: Words<PrecedenceDiagnosis> = {
  message: precedenceMessage,
  blocks: precedenceBlocks,
  order: ({ code, first, moments }) => (code === 'tooEarly' ? [first, moments[0]] : []),
};

export const inFlightWords: Words<InFlightDiagnosis> = {
  message: inFlightMessage,
  blocks: inFlightBlocks,
};

/** The problems of an order, one by one, and the lanes around it. */
function orderBlocks(diagnosis: OrderDiagnosis): readonly Block[] {
  const { problems, lanes: entries, leftOut: left, whole } = diagnosis;
  const notes = new Map<string, string>();
  const note = (moment: Moment | undefined, text: string) => {
    if (moment !== undefined) notes.set(noteKey(moment.entry.id, moment.end), text);
  };
  const isShown = (near: Entry) => entries.some(({ id }) => id === near.id);
  const noteMissing = ({ step, after, before, near }: OrderProblem & { kind: 'missing' }) => {
    if (near !== undefined && isShown(near.entry))
      note(
        { entry: near.entry, end: near.differences[0]?.path[0] === 'outcome' },
        'not as expected',
      );
    else if (before === undefined) note(after, `no ${step} after this`);
    else note(before, `no ${step} before this`);
  };
  for (const problem of problems.slice(0, toldMost)) {
    if (problem.kind === 'early') note(problem.after, 'had to come first');
    if (problem.kind === 'late') note(problem.before, 'had to come later');
    if (problem.kind === 'missing') noteMissing(problem);
    if (problem.kind === 'surplus') note(problem.moment, 'unexpected');
    if (problem.kind === 'early' || problem.kind === 'late')
      note(problem.moment, `too ${problem.kind}`);
  }
  const sentences = printProblems(problems);
  return [
    // The first is told in the sentence above.
    ...sentences.slice(1, toldMost),
    ...leftOut(sentences.length - toldMost, ['problem', 'problems']),
    ...(entries.length > 0 ? [{ is: 'lanes', entries, notes } as const] : []),
    ...leftOut(left, ['entry of these members', 'entries of these members'], leastOf(diagnosis)),
    ...insteadLines(diagnosis),
    ...(whole ? [] : [[faint('only the part around the failure was searched for the reason')]]),
  ];
}

/** How many pairs of steps are written out, and the characters of a step in them. */
const [pairsTold, stepShown] = [3, 40];

/** What to write if a sequence may come more than once. */
function insteadLines({ instead }: OrderDiagnosis): readonly string[] {
  if (instead === undefined) return [];
  const { is, steps } = instead;
  if (is === 'loop')
    return [
      "the sequence comes more than once: to allow that, write inTurn(loop('1..*', inTurn(…)))",
    ];
  const short = steps.map((step) => clip(step, stepShown));
  const pairs = short.slice(1).map((step, at) => `${step} only after ${short[at]}`);
  const shown = pairs.slice(0, pairsTold);
  const rest = pairs.length > shown.length ? [`… ${pairs.length - shown.length} more`] : [];
  return [
    `each step comes after an earlier one: if that is enough, write onlyAfter(…) (${[...shown, ...rest].join(', ')})`,
  ];
}

function precedenceBlocks(diagnosis: PrecedenceDiagnosis): readonly Block[] {
  const { code, moments, first, needed } = diagnosis;
  const shown = moments.slice(0, toldMost);
  const entries = unique([
    ...shown.map(({ entry }) => entry),
    ...(first === undefined ? [] : [first.entry]),
  ]);
  const notes = new Map(
    shown.map(({ entry, end }) => [
      noteKey(entry.id, end),
      code === 'neverFollowed'
        ? `no ${needed} after this`
        : first === undefined
          ? `no ${needed} before this`
          : 'too early',
    ]),
  );
  if (first !== undefined && code === 'tooEarly')
    notes.set(noteKey(first.entry.id, first.end), 'had to come first');
  return [
    { is: 'lanes', entries, notes },
    ...leftOut(moments.length - shown.length, ['of them', 'of them'], leastOf(diagnosis)),
  ];
}

function inFlightBlocks(diagnosis: InFlightDiagnosis): readonly Block[] {
  const shown = diagnosis.underWay.slice(-toldMost);
  const last = shown[shown.length - 1];
  const notes = new Map(
    last === undefined ? [] : [[noteKey(last.id, false), `${diagnosis.peak} under way`]],
  );
  return [
    { is: 'lanes', entries: shown, notes },
    ...leftOut(diagnosis.underWay.length - shown.length, ['under way', 'under way']),
  ];
}

function unique(entries: readonly Entry[]): readonly Entry[] {
  return [...new Map(entries.map((entry) => [entry.id, entry])).values()].sort(
    (one, other) => one.id - other.id,
  );
}
