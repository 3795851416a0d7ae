import type {
  AlwaysTrueDiagnosis,
  DriftDiagnosis,
  SlotDiagnosis,
  UnplannedDiagnosis,
  VacuousDiagnosis,
} from '../explain/finding.ts';
import { printCall } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import { escapeControls } from '../value/escape.ts';
import { printDifference } from './difference-words.ts';
import { entryLines } from './entry-lines.ts';
import { always, placed, sentence, type Words } from './words.ts';

/** How many plans of a member are listed before the rest is counted. */
const plansListed = 8;

export const unplannedWords: Words<UnplannedDiagnosis> = {
  couldExplain: always,
  message: ({ entry }) => `no plan fits ${printCall(entry)}${placed(entry.site)}`,
  lines: (diagnosis, layout) => [
    ...entryLines([diagnosis.entry], layout),
    ...unplannedLines(diagnosis),
  ],
};

export const unknownMemberWords: Words<UnplannedDiagnosis> = {
  message: ({ entry, type }) =>
    `${type ?? 'its class'} has no such member, and ${printCall(entry)} was called${placed(entry.site)}`,
  lines: unplannedWords.lines,
  couldExplain: always,
};

export const changedSlotWords: Words<SlotDiagnosis> = {
  couldExplain: always,
  message: (diagnosis) =>
    'threw' in diagnosis
      ? `${diagnosis.member} could not be put back: ${shortValue(diagnosis.threw)} was thrown`
      : `${diagnosis.member} was changed by other code in the meantime, and is left as it is now`,
  lines: (diagnosis) => [sentence(changedSlotWords.message(diagnosis))],
};

export const driftWords: Words<DriftDiagnosis> = {
  message({ drifts }) {
    const [first] = drifts;
    const rest = drifts.length > 1 ? ` (and ${drifts.length - 1} more)` : '';
    return first === undefined ? 'it has drifted' : `${printDrift(first)}${rest}`;
  },
  lines: ({ drifts }) => drifts.map(printDrift),
};

export const vacuousWords: Words<VacuousDiagnosis> = {
  message({ never, untouched }) {
    if (untouched === undefined) return `it holds only because ${never} never occurred`;
    const { double, alike } = untouched;
    const why = `it holds only because nothing was recorded on ${escapeControls(double)}`;
    return alike.length === 0
      ? `${why}, and no claim shows that anything was; was it handed over?`
      : `${why}, while ${alike.join(', ')} was called, on another double of that name`;
  },
  lines(diagnosis) {
    const message = vacuousWords.message(diagnosis);
    const isQuestion = diagnosis.untouched?.alike.length === 0;
    return [isQuestion ? message : sentence(message)];
  },
};

export const alwaysTrueWords: Words<AlwaysTrueDiagnosis> = {
  message: () => 'it always holds: no record could break it, so that it claims nothing',
  lines: (diagnosis) => [sentence(alwaysTrueWords.message(diagnosis))],
};

/** One drift in a line: what the double was used as, and what the real one is. */
function printDrift({ member, double, real }: DriftDiagnosis['drifts'][number]): string {
  return `${member}: the double ${double}, the real one ${real}`;
}

/** What there is in place of an answer: the member's plans and how the call differs from each, or its class's members. */
export function unplannedLines({
  code,
  plans,
  alike,
  signature,
  type,
  entry,
}: UnplannedDiagnosis): readonly string[] {
  if (code === 'unknownMember') {
    const near = alike.length === 0 ? [] : [`${type ?? 'it'} has: ${alike.join(', ')}`];
    return [
      ...near,
      `to declare it: ${signature}`,
      'fields and arrow functions cannot be seen on the class; plan them before they are called',
    ];
  }
  if (plans.length === 0) {
    return [
      `this member has no plan; write plan(call(${entry.label}), gives(undefined)) or relax the rule unplannedCall`,
    ];
  }
  const shown = plans.slice(0, plansListed).map(({ plan, differences }) => {
    const why = differences.slice(0, 2).map(printDifference).join('; ');
    return `${plan}${why === '' ? '' : `   ${why}`}`;
  });
  const rest = plans.length - shown.length;
  return [
    'the plans for it, and how the call differs:',
    ...shown.map((line) => `  ${line}`),
    ...(rest > 0 ? [`  … ${rest} more`] : []),
  ];
}
