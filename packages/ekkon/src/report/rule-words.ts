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
import { faint, type Line, leftOut } from './block.ts';
import { nearestHeading } from './count-words.ts';
import {
  differencesInShort,
  printChange,
  printDifference,
  printUndecided,
} from './difference-words.ts';
import { changesOf, entryLines, nearBlocks } from './entry-lines.ts';
import { clip } from './layout.ts';
import { namedMoment } from './order-message.ts';
import { printSite } from './places.ts';
import { always, count, named, patternShown, placed, printTime, type Words } from './words.ts';

/** How many entries of one kind are listed before the rest is counted. */
const listedMost = 12;

/** How many differences are listed of one entry, or of one stream. */
const differencesListed = 6;

export const unclaimedWords: Words<UnclaimedEntries> = {
  message({ entries, count: all }) {
    const [first] = entries;
    const who = first === undefined ? '' : namedMoment({ entry: first.entry, end: false });
    const others = all === 2 ? 'is 1 more' : `are ${all - 1} more`;
    return `${who} is covered by no claim${all > 1 ? `, and neither ${others}` : ''}`;
  },
  blocks({ entries, count: all }, width) {
    const lines = entries.flatMap(({ entry, nearest }) => [
      ...entryLines([entry], width),
      ...(nearest === undefined
        ? []
        : [
            `     nearest claim: ${clip(nearest.plan, width - 26)}   ${nearest.differences.slice(0, 1).map(printDifference).join('')}`,
          ]),
    ]);
    return [...lines, ...leftOut(all - entries.length, ['entry', 'entries'])];
  },
};

export const itemsWords: Words<ItemsDiagnosis> = {
  message(diagnosis) {
    const { differences, items, claimedItems, culprits, stream } = diagnosis;
    const culprit = items.find(({ id }) => id === culprits[0]);
    const who = culprit === undefined ? escapeControls(stream) : named(culprit);
    return `${who}: ${differencesInShort(differences)}${items.length === claimedItems ? '' : `; ${numbersOf(diagnosis)}`}${endedPart(diagnosis)}`;
  },
  blocks(diagnosis, width) {
    const { items, claimedItems, differences, culprits } = diagnosis;
    const culprit = items.filter(({ id }) => culprits.includes(id)).slice(0, listedMost);
    return [
      items.length === claimedItems
        ? `${count(claimedItems, 'item')}, as many as expected${endedPart(diagnosis)}:`
        : `${numbersOf(diagnosis)}${endedPart(diagnosis)}:`,
      { is: 'differences', differences, most: differencesListed },
      ...(culprit.length === 0 ? [] : entryLines(culprit, width)),
    ];
  },
};

const pendingWords = (
  verb: (who: string, rest: string) => string,
  heading: string,
  ...hints: readonly string[]
): Words<PendingDiagnosis> => ({
  message({ pending }) {
    const [first] = pending;
    if (first === undefined) return 'nothing is pending';
    const rest = pending.length > 1 ? `, and ${pending.length - 1} more` : '';
    return verb(named(first.entry), rest);
  },
  blocks: ({ pending }, width) => [heading, ...pendingLines(pending, width), ...hints],
});

/** The words for findings of rules and of closing. */
export const ruleWords: { readonly [C in keyof RuleDiagnoses]: Words<RuleDiagnoses[C]> } = {
  unclaimedCall: unclaimedWords,
  unusedPlan: {
    couldExplain: ({ nearest }) => nearest.length > 0,
    message({ plan, plannedAt, calls, callsBefore, nearest, member, shadowed }) {
      const [near] = nearest;
      const which = `plan ${clip(plan, patternShown)}${placed(plannedAt)} answered no call`;
      if (near !== undefined)
        return `${named(near.entry)}: ${differencesInShort(near.differences)}; ${which}`;
      if (calls === 0) return `${which}: ${member} was never called`;
      if (shadowed) return `${which}: a newer plan answers every call that it matches`;
      if (callsBefore === calls)
        return `${which}: ${calls === 1 ? 'the only call' : `all ${calls} calls`} of ${member} came before it was written`;
      return `${which}: no call of ${member} matches it`;
    },
    blocks: ({ plan, calls, nearest }, width) =>
      nearest.length === 0
        ? [plan]
        : [
            plan,
            nearestHeading(nearest.length, calls, 'call', false),
            ...nearest.flatMap((near, at) =>
              nearBlocks(near, width, at === 0 ? differencesListed : 3),
            ),
          ],
  },
  unfinishedCall: {
    ...pendingWords((who, rest) => `the promise of ${who} never settled${rest}`, 'never settled:'),
    couldExplain: always,
  },
  stillPending: pendingWords(
    (who, rest) => `${who} is still pending${rest}`,
    'still pending:',
    'untilQuiet sees recorded calls alone; to wait for a call that is to come, write await reach(once(call(…)))',
  ),
  uncheckedClaim: {
    message({ is, written }) {
      const [first] = written;
      const what = `${first?.notation}${placed(first?.at)}`;
      const rest =
        written.length > 1
          ? `, and neither ${written.length === 2 ? 'was 1 more' : `were ${written.length - 1} more`}`
          : '';
      return is === 'pattern'
        ? `the pattern ${what} is not used${rest}`
        : `${what} was never checked${rest}: pass it to check()`;
    },
    blocks: ({ is, written }, width) => [
      is === 'pattern' ? 'not used:' : 'never checked:',
      ...written
        .slice(0, listedMost)
        .map(({ notation, at }) => [`${clip(notation, width)}   `, faint(printSite(at))]),
      ...leftOut(written.length - listedMost, ['of them', 'of them']),
    ],
  },
  unawaitedWait: {
    message: (diagnosis) =>
      `${diagnosis.word} of ${diagnosis.waited}${placed(diagnosis.at)} was not awaited: ${howUnawaited[diagnosis.state]}`,
    blocks: ({ word, at }) => [[`write await before ${word}(…)   `, faint(printSite(at))]],
  },
  nothingChecked: {
    message: nothingMessage,
    blocks: ({ entry, calls, streams, at }, width) => [
      ...(entry === undefined
        ? streams.map((stream): Line => [`${escapeControls(stream)}   `, faint(printSite(at))])
        : [
            calls === 1 ? '1 entry:' : `${calls} entries; the first:`,
            ...entryLines([entry], width),
          ]),
      'a claim that is checked after that, entries(pattern), or a plan with a count would look at them.',
    ],
  },
  changedArgument: {
    couldExplain: always,
    message({ entry, changes }) {
      const [first] = changes;
      const where = first === undefined ? '' : `: ${printChange(first).join(', ')}`;
      return `${named(entry)}: an argument was changed after the call${where}`;
    },
    blocks: ({ entry, changes }, width) => [...entryLines([entry], width), ...changesOf(changes)],
  },
  callAfterClose: {
    message: ({ entry, ledger }) =>
      `${clip(printCall(entry), patternShown)}${placed(entry.site)} came after ledger ${inQuotes(ledger)} was closed: its test had ended, and did not wait for it`,
    blocks: ({ entry }, width) => entryLines([entry], width),
  },
  swallowedCheck: {
    message({ found, at, checks }) {
      const rest = checks > 1 ? `, and ${checks - 1} more` : '';
      return `a check${placed(at)} failed${rest}, and its error was swallowed: ${found}`;
    },
    blocks: ({ at }) => [
      ['the check   ', faint(printSite(at))],
      'let its error through, or read error.verdict if it is to fail.',
    ],
  },
  undecidedPlan: {
    couldExplain: always,
    message: ({ entry, plan, differences }) =>
      `${named(entry)}: cannot tell whether plan ${plan} matches, so it did not answer: ${differences.slice(0, 1).map(printUndecided).join('')}`,
    blocks: ({ entry, differences }, width) => [
      ...entryLines([entry], width),
      { is: 'differences', differences, most: differencesListed },
    ],
  },
  emptyReply: {
    couldExplain: always,
    message({ entries: [first, ...others], plans: [plan] }) {
      const who = first === undefined ? 'a call' : `${first.label}${placed(first.site)}`;
      const rest = others.map(({ label, site }) => `${label}${placed(site)}`).join(', ');
      const has =
        plan === undefined
          ? 'has no plan'
          : `matches no plan (there is ${clip(plan, patternShown)})`;
      return `${who} ${has} and returned undefined${rest === '' ? '' : `; so did ${rest}`}`;
    },
    blocks: ({ entries }, width) => [
      'the test failed on undefined, and no plan answers these calls:',
      ...entryLines(entries, width),
      `write plan(call(${entries[0]?.label ?? 'member'}), gives(…)) if the code needs a value`,
    ],
  },
  cutOff: {
    couldExplain: always,
    message: ({ entry }) =>
      entry === undefined
        ? 'the record is cut off: nothing of it was read'
        : `the record is cut off after ${named(entry)}: what came then is not known`,
    blocks: () => [
      'its closing line is missing: the process ended before the ledger was closed, or the file was not written whole',
      'to judge what is there, add --allow-cut',
    ],
  },
  brokenReply: {
    couldExplain: always,
    message: ({ entry, is, reason }) =>
      is === 'assertion'
        ? `${named(entry)}: an assertion inside of its reply failed: ${clip(saidBy(reason), 160)}`
        : `${named(entry)}: its plan could not be carried out: ${clip(saidBy(reason), 160)}`,
    blocks: ({ entry }, width) => entryLines([entry], width),
  },
  failedStream: {
    couldExplain: always,
    message: ({ entry }) =>
      `the stream ${entry.label} failed with ${shortValue(entry.args[0], 120)}, and no claim mentions that`,
    blocks: ({ entry }, width) => entryLines([entry], width),
  },
  notReleased: {
    couldExplain: always,
    message: ({ stream, reason }) =>
      `the stream ${escapeControls(stream)} could not be ended: ${shortValue(reason, 120)}`,
    blocks: () => [],
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
    const before =
      early === 1 ? '1 claim was checked' : `${early} claims were checked, all of them`;
    return `${what}, and ${before} before anything was called`;
  }
  const pattern =
    bare === undefined ? '' : `; ${bare.notation}${placed(bare.at)} is a pattern, not a claim`;
  return `${what}, and no claim was checked${pattern}`;
}

function whatWasThere({ calls, entry, streams, doubles, at }: NothingCheckedDiagnosis): string {
  if (entry !== undefined)
    return `${count(calls, 'entry', 'entries')} recorded, the first ${named(entry)}`;
  if (streams.length > 0)
    return `stream ${streams.join(', ')}${placed(at)} is followed and emitted nothing`;
  if (doubles.length === 0) return 'the ledger was asked for and not used';
  return `${doubles.map(escapeControls).join(', ')} ${doubles.length === 1 ? 'was' : 'were'} made and never called`;
}

/** Pending calls a line each, with their time. */
export function pendingLines(pending: readonly PendingCall[], width: number): readonly Line[] {
  const shown = pending.slice(0, listedMost);
  const entries = shown.map(({ entry }) => entry);
  const notes = new Map(
    shown.map(({ entry, since, stalls }) => [
      entry.id,
      `${since < 1 ? 'pending' : `pending for ${printTime(since)}`}${stalls ? ', planned to stall' : ''}`,
    ]),
  );
  return [
    ...entryLines(entries, width, ({ id }) => notes.get(id)),
    ...leftOut(pending.length - shown.length, ['pending', 'pending']),
  ];
}

/** How many items came, and were expected. */
function numbersOf({ items, claimedItems }: ItemsDiagnosis): string {
  return `${count(items.length, 'item')}, expected ${claimedItems}`;
}

/** How a stream ended, if it did. */
function endedPart({ ended }: ItemsDiagnosis): string {
  if (ended === undefined) return '';
  return ended.kind === 'end'
    ? `; then it ended (#${ended.id})`
    : `; then it failed (#${ended.id}) with ${shortValue(ended.args[0], 80)}`;
}

/** The message of an error, in one line. */
function saidBy(reason: unknown): string {
  const message = reason instanceof Error ? reason.message : shortValue(reason);
  return escapeControls(message.split('\n')[0] ?? '');
}
