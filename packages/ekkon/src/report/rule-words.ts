import type { UnclaimedEntries } from '../explain/diagnosis.ts';
import type { ItemsDiagnosis } from '../explain/finding.ts';
import type {
  NothingCheckedDiagnosis,
  PendingCall,
  PendingDiagnosis,
  RuleDiagnoses,
  UnawaitedDiagnosis,
} from '../explain/rule-finding.ts';
import { printCall } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import { escapeControls, inQuotes } from '../value/escape.ts';
import { nearestHeading } from './count-words.ts';
import { changeLines, differenceLines } from './difference-lines.ts';
import { printChange, printDifference, printUndecided } from './difference-words.ts';
import { entryLines, nearLines } from './entry-lines.ts';
import { clip, type Layout, leftOut } from './layout.ts';
import { namedMoment } from './order-message.ts';
import { printSite } from './places.ts';
import { always, count, named, placed, printTime, sentence, type Words } from './words.ts';

/** How many entries of one kind are listed before the rest is counted. */
const listedMost = 12;

/** How many differences are listed of one entry, or of one stream. */
const differencesListed = 6;

export const unclaimedWords: Words<UnclaimedEntries> = {
  message({ entries, count: all }) {
    const [first] = entries;
    const who = first === undefined ? '' : namedMoment({ entry: first.entry, end: false });
    return `no claim speaks of ${who}${all > 1 ? ` (and ${all - 1} more)` : ''}`;
  },
  lines({ entries, count: all }, layout) {
    const lines = entries.flatMap(({ entry, nearest }) => [
      ...entryLines([entry], layout),
      ...(nearest === undefined
        ? []
        : [
            `     nearest: ${clip(nearest.plan, layout.width - 20)}   ${nearest.differences.slice(0, 1).map(printDifference).join('')}`,
          ]),
    ]);
    return [...lines, ...leftOut(all - entries.length, ['entry', 'entries'], layout)];
  },
};

export const itemsWords: Words<ItemsDiagnosis> = {
  message(diagnosis) {
    const { differences, items, claimedItems, culprits } = diagnosis;
    const [first] = differences;
    const told = first === undefined ? '' : printDifference(first);
    const rest = differences.length > 1 ? ` (and ${differences.length - 1} more)` : '';
    const culprit = items.find(({ id }) => id === culprits[0]);
    const which = culprit === undefined ? '' : ` in ${named(culprit)}`;
    return `${count(items.length, 'item')}, ${claimedItems} claimed${endedPart(diagnosis)}: ${told}${which}${rest}`;
  },
  lines(diagnosis, layout) {
    const { items, claimedItems, differences, culprits } = diagnosis;
    const culprit = items.filter(({ id }) => culprits.includes(id)).slice(0, listedMost);
    return [
      `${count(items.length, 'item')}, ${claimedItems} claimed${endedPart(diagnosis)}:`,
      ...differenceLines(differences, differencesListed, layout),
      ...(culprit.length === 0 ? [] : entryLines(culprit, layout)),
    ];
  },
};

const pendingWords = (
  verb: (who: string, rest: string) => string,
  heading: string,
): Words<PendingDiagnosis> => ({
  message({ pending }) {
    const [first] = pending;
    if (first === undefined) return 'nothing is pending';
    const rest = pending.length > 1 ? ` (and ${pending.length - 1} more)` : '';
    return verb(named(first.entry), rest);
  },
  lines: ({ pending }, layout) => [heading, ...pendingLines(pending, layout)],
});

/** The words for what rules find, and closing. */
export const ruleWords: { readonly [C in keyof RuleDiagnoses]: Words<RuleDiagnoses[C]> } = {
  unclaimedCall: unclaimedWords,
  unusedPlan: {
    couldExplain: ({ nearest }) => nearest.length > 0,
    message({ plan, plannedAt, calls, nearest, member, shadowed }) {
      const which = `plan ${plan}${placed(plannedAt)} answered no call`;
      if (calls === 0) return `${which}: ${member} was never called`;
      if (shadowed) return `${which}: a newer plan answers all that it could`;
      const [near] = nearest;
      if (near === undefined) return which;
      const why = near.differences.slice(0, 2).map(printDifference).join('; ');
      return `${which}; nearest is ${named(near.entry)}: ${why}`;
    },
    lines({ plan, calls, nearest, member, shadowed }, layout) {
      if (calls === 0) return [plan, `${member} was never called.`];
      if (shadowed) return [plan, 'a newer plan answers all the calls that it could.'];
      return [
        plan,
        nearestHeading(nearest.length, calls, 'call', false),
        ...nearest.flatMap((near, at) => nearLines(near, layout, at === 0 ? differencesListed : 3)),
      ];
    },
  },
  unfinishedCall: {
    ...pendingWords((who, rest) => `the promise of ${who} never settled${rest}`, 'never settled:'),
    couldExplain: always,
  },
  stillPending: pendingWords((who, rest) => `${who} is still pending${rest}`, 'still pending:'),
  uncheckedClaim: {
    message({ is, written }) {
      const [first] = written;
      const what = `${first?.notation}${placed(first?.at)}`;
      const rest = written.length > 1 ? ` (and ${written.length - 1} more)` : '';
      return is === 'pattern'
        ? `the pattern ${what} was written, and nothing uses it${rest}`
        : `${what} was written and never judged${rest}: hand it to check()`;
    },
    lines: ({ is, written }, layout) => [
      is === 'pattern' ? 'used by nothing:' : 'never judged:',
      ...written
        .slice(0, listedMost)
        .map(
          ({ notation, at }) =>
            `${clip(notation, layout.width)}   ${layout.paint('faint', printSite(at))}`,
        ),
      ...leftOut(written.length - listedMost, ['of them', 'of them'], layout),
    ],
  },
  unawaitedWait: {
    message: (diagnosis) =>
      `${diagnosis.word} of ${diagnosis.waited}${placed(diagnosis.at)} was not awaited: ${howUnawaited[diagnosis.state]}`,
    lines: ({ word, at }, layout) => [
      `write await before ${word}(…)   ${layout.paint('faint', printSite(at))}`,
    ],
  },
  nothingChecked: {
    message: nothingMessage,
    lines: ({ entry, calls, streams, at }, layout) => [
      ...(entry === undefined
        ? streams.map(
            (stream) => `${escapeControls(stream)}   ${layout.paint('faint', printSite(at))}`,
          )
        : [
            calls === 1 ? '1 entry:' : `${calls} entries; the first:`,
            ...entryLines([entry], layout),
          ]),
      'a claim that is judged after that, entries(pattern), or a plan with a count would look at them.',
    ],
  },
  changedArgument: {
    couldExplain: always,
    message({ entry, changes }) {
      const [first] = changes;
      const where = first === undefined ? '' : `: ${printChange(first).join(', ')}`;
      return `an argument of ${named(entry)} was changed after the call${where}`;
    },
    lines: ({ entry, changes }, layout) => [
      ...entryLines([entry], layout),
      ...changeLines(changes, layout),
    ],
  },
  callAfterClose: {
    message: ({ entry, ledger }) =>
      `${printCall(entry)} came after ledger ${inQuotes(ledger)} was closed${placed(entry.site)}: its test had ended, and did not wait for it`,
    lines: ({ entry }, layout) => entryLines([entry], layout),
  },
  swallowedCheck: {
    message({ found, at, checks }) {
      const rest = checks > 1 ? ` (and ${checks - 1} more)` : '';
      return `a check${placed(at)} threw, and its error was swallowed${rest}: ${found}`;
    },
    lines: ({ at }, layout) => [
      `the check   ${layout.paint('faint', printSite(at))}`,
      'let its error through, or read error.verdict if it is to fail.',
    ],
  },
  undecidedPlan: {
    couldExplain: always,
    message: ({ entry, plan, differences }) =>
      `it is not known whether plan ${plan} fits ${named(entry)}, so that it did not answer: ${differences.slice(0, 1).map(printUndecided).join('')}`,
    lines: ({ entry, differences }, layout) => [
      ...entryLines([entry], layout),
      ...differenceLines(differences, differencesListed, layout),
    ],
  },
  emptyReply: {
    couldExplain: always,
    message({ entries: [first, ...others] }) {
      const who = first === undefined ? 'a call' : `${first.label}${placed(first.site)}`;
      const rest = others.map(({ label, site }) => `${label}${placed(site)}`).join(', ');
      return `${who} has no plan and gave undefined${rest === '' ? '' : `; so did ${rest}`}`;
    },
    lines: ({ entries }, layout) => [
      'the test failed on undefined, and nothing answers these calls:',
      ...entryLines(entries, layout),
      `write plan(call(${entries[0]?.label ?? 'member'}), gives(…)) if the code needs a value`,
    ],
  },
  failedStream: {
    couldExplain: always,
    message: ({ entry }) =>
      `the stream ${entry.label} failed with ${shortValue(entry.args[0], 120)}, and no claim speaks of that`,
    lines: ({ entry }, layout) => entryLines([entry], layout),
  },
  notReleased: {
    couldExplain: always,
    message: ({ stream, reason }) =>
      `the stream ${escapeControls(stream)} could not be ended: ${shortValue(reason, 120)}`,
    lines: (diagnosis) => [sentence(ruleWords.notReleased.message(diagnosis))],
  },
};

const howUnawaited: { readonly [S in UnawaitedDiagnosis['state']]: string } = {
  open: 'it had not come to an end when the test did',
  held: 'what came after it in the test did not wait',
  failed: 'it failed, and the test went on',
};

function nothingMessage(diagnosis: NothingCheckedDiagnosis): string {
  const { early, bare } = diagnosis;
  const what = whatWasThere(diagnosis);
  if (early > 0) {
    const before = early === 1 ? '1 claim was judged' : `${early} claims were judged, all of them`;
    return `${what}, and ${before} before anything was called`;
  }
  const pattern =
    bare === undefined
      ? ''
      : `; ${bare.notation}${placed(bare.at)} is a pattern, and claims nothing`;
  return `${what}, and no claim was judged${pattern}`;
}

function whatWasThere({ calls, entry, streams, doubles, at }: NothingCheckedDiagnosis): string {
  if (entry !== undefined)
    return `${count(calls, 'entry', 'entries')} recorded, the first ${named(entry)}`;
  if (streams.length > 0)
    return `stream ${streams.join(', ')}${placed(at)} is followed and gave nothing`;
  return `${doubles.map(escapeControls).join(', ')} ${doubles.length === 1 ? 'was' : 'were'} made and never called`;
}

/** Pending calls a line each, with their time. */
export function pendingLines(pending: readonly PendingCall[], layout: Layout): readonly string[] {
  const shown = pending.slice(0, listedMost);
  const entries = shown.map(({ entry }) => entry);
  const notes = new Map(
    shown.map(({ entry, since, stalls }) => [
      entry.id,
      `pending for ${printTime(since)}${stalls ? ', planned to stall' : ''}`,
    ]),
  );
  return [
    ...entryLines(entries, layout, ({ id }) => notes.get(id)),
    ...leftOut(pending.length - shown.length, ['pending', 'pending'], layout),
  ];
}

/** How a stream ended, if it did. */
function endedPart({ ended }: ItemsDiagnosis): string {
  if (ended === undefined) return ', and it has not ended';
  return ended.kind === 'end'
    ? `, and then it ended (#${ended.id})`
    : `, and then it failed (#${ended.id}) with ${shortValue(ended.args[0], 80)}`;
}
