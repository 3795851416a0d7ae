import type { ItemsDiagnosis } from '../explain/finding.ts';
import type { PendingCall, RuleDiagnosis, UnusedPlanDiagnosis } from '../explain/rule-finding.ts';
import { changeLines, differenceLines } from './difference-lines.ts';
import { entryLines, nearLines } from './entry-lines.ts';
import { clip, type Layout, leftOut } from './layout.ts';
import { printSite } from './places.ts';
import { endedPart } from './rule-message.ts';
import { count, printTime } from './words.ts';

/** How many entries of one kind are listed before the rest is counted. */
const listedMost = 12;

/** How many differences are listed of one entry, or of one stream. */
const differencesListed = 6;

/** What a rule found, with the entries, the plan or the place it is about. */
export function ruleLines(
  diagnosis: Exclude<RuleDiagnosis, { readonly code: 'unclaimedCall' }>,
  layout: Layout,
): readonly string[] {
  switch (diagnosis.code) {
    case 'unusedPlan':
      return unusedLines(diagnosis, layout);
    case 'unfinishedCall':
      return ['never settled:', ...pendingLines(diagnosis.pending, layout)];
    case 'stillPending':
      return ['still pending:', ...pendingLines(diagnosis.pending, layout)];
    case 'uncheckedClaim':
      return [
        diagnosis.is === 'pattern' ? 'used by nothing:' : 'never judged:',
        ...diagnosis.written
          .slice(0, listedMost)
          .map(
            ({ notation, at }) =>
              `${clip(notation, layout.width)}   ${layout.paint('faint', printSite(at))}`,
          ),
        ...leftOut(diagnosis.written.length - listedMost, 'of them', layout),
      ];
    case 'unawaitedReach':
      return [
        `write: await ${diagnosis.word}(${diagnosis.waited})   ${layout.paint('faint', printSite(diagnosis.at))}`,
      ];
    case 'nothingChecked':
      return [
        ...(diagnosis.entry === undefined
          ? [`${diagnosis.streams.join(', ')}   ${layout.paint('faint', printSite(diagnosis.at))}`]
          : [
              `${count(diagnosis.calls, 'entry', 'entries')}, of which the first is:`,
              ...entryLines([diagnosis.entry], layout),
            ]),
        'a claim that is judged after that, entries(pattern), or a plan with a count would look at them.',
      ];
    case 'changedArgument':
      return [...entryLines([diagnosis.entry], layout), ...changeLines(diagnosis.changes, layout)];
    case 'callAfterClose':
      return entryLines([diagnosis.entry], layout);
    case 'failedStream':
      return entryLines([diagnosis.entry], layout);
    case 'notReleased':
      return [`${clip(String(diagnosis.reason), layout.width)}`];
  }
}

function unusedLines(
  { plan, calls, nearest, member, shadowed }: UnusedPlanDiagnosis,
  layout: Layout,
): readonly string[] {
  if (calls === 0) return [plan, `${member} was never called.`];
  if (shadowed) return [plan, 'a newer plan answers all the calls that it could.'];
  return [
    plan,
    `the nearest of ${count(calls, 'call')}:`,
    ...nearest.flatMap((near, at) => nearLines(near, layout, at === 0 ? differencesListed : 3)),
  ];
}

/** Pending calls a line each, with their time. */
export function pendingLines(pending: readonly PendingCall[], layout: Layout): readonly string[] {
  const shown = pending.slice(0, listedMost);
  const entries = shown.map(({ entry }) => entry);
  const notes = new Map(
    shown.map(({ entry, since, stalls }) => [
      entry.id,
      `for ${printTime(since)}${stalls ? ', planned to stall' : ''}`,
    ]),
  );
  return [
    ...entryLines(entries, layout, ({ id }) => notes.get(id)),
    ...leftOut(pending.length - shown.length, 'pending', layout),
  ];
}

/** The items of a stream that differ, and how it ended. */
export function itemsLines(diagnosis: ItemsDiagnosis, layout: Layout): readonly string[] {
  const { items, claimedItems, differences, culprits } = diagnosis;
  const culprit = items.filter(({ id }) => culprits.includes(id)).slice(0, listedMost);
  return [
    `${count(items.length, 'item')}, ${claimedItems} claimed${endedPart(diagnosis)}:`,
    ...differenceLines(differences, differencesListed, layout),
    ...(culprit.length === 0 ? [] : entryLines(culprit, layout)),
  ];
}
