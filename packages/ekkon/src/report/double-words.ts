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
import { differencesInShort, printDifference } from './difference-words.ts';
import { entryLines, nearBlocks } from './entry-lines.ts';
import { clip } from './layout.ts';
import { always, named, patternSaid, patternShown, placed, type Words } from './words.ts';

/** How many differences of one call are listed. */
const differencesListed = 6;

/** How many plans of a member are listed before the rest is counted. */
const plansListed = 8;

export const unplannedWords: Words<UnplannedDiagnosis> = {
  couldExplain: always,
  message({ entry, plans }) {
    const who = `#${entry.id} ${clip(printCall(entry), patternShown)}${placed(entry.site)}`;
    const [first] = plans;
    if (first === undefined) return `${who} has no plan`;
    const rest = plans.length > 1 ? `, and ${plans.length - 1} more` : '';
    return `${who} matches no plan; there is ${clip(first.plan, patternShown)}${rest}`;
  },
  blocks: (diagnosis, width) => [
    ...entryLines([diagnosis.entry], width),
    ...unplannedLines(diagnosis),
  ],
};

export const unknownMemberWords: Words<UnplannedDiagnosis> = {
  message: ({ entry, type }) =>
    `#${entry.id} ${clip(printCall(entry), patternShown)}${placed(entry.site)} was called, and ${type ?? 'its class'} has no such member`,
  blocks: unplannedWords.blocks,
  couldExplain: always,
};

export const changedSlotWords: Words<SlotDiagnosis> = {
  couldExplain: always,
  message: (diagnosis) =>
    'threw' in diagnosis
      ? `${diagnosis.member} could not be put back: ${shortValue(diagnosis.threw)} was thrown`
      : `${diagnosis.member} was changed by other code in the meantime, and is left as it is now`,
  blocks: () => [],
};

export const driftWords: Words<DriftDiagnosis> = {
  message({ drifts }) {
    const [first] = drifts;
    const rest = drifts.length > 1 ? `; and ${drifts.length - 1} more` : '';
    return first === undefined ? 'it has drifted' : `${printDrift(first)}${rest}`;
  },
  blocks: ({ drifts }) => drifts.slice(1).map(printDrift),
};

export const vacuousWords: Words<VacuousDiagnosis> = {
  message({ never, near, untouched }) {
    if (near?.differences.length === 0)
      return `${named(near.entry)} was called, and ${patternSaid(never)} never was: is one of them a slip?`;
    if (near !== undefined)
      return `${named(near.entry)}: ${differencesInShort(near.differences)}; the claim holds only because ${patternSaid(never)} never occurred`;
    if (untouched === undefined)
      return `${patternSaid(never)} never occurred: the claim holds only because of that`;
    const { double, alike } = untouched;
    const why = `nothing was recorded on ${escapeControls(double)}: the claim holds only because of that`;
    return alike.length === 0
      ? `${why}; was the double handed to the code under test?`
      : `${why}; ${alike.join(', ')} was called, on another double of that name`;
  },
  blocks: ({ near }, width) =>
    near === undefined ? [] : ['the nearest call:', ...nearBlocks(near, width, differencesListed)],
};

export const alwaysTrueWords: Words<AlwaysTrueDiagnosis> = {
  message: ({ claim }) => `${clip(claim, patternShown)} always holds: no record could break it`,
  blocks: () => [],
};

/** One drift in a line: how the double was used, and how the real one is. */
function printDrift({ member, double, real }: DriftDiagnosis['drifts'][number]): string {
  return `${member}: the double ${double}, the real one ${real}`;
}

/** The alternatives to an answer: the member's plans and how the call differs from each, or the members of its class. */
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
