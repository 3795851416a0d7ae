import type { CountDiagnosis, UndecidedDiagnosis } from '../explain/finding.ts';
import { shortValue } from '../notation/value.ts';
import { type Entry, isStreamed } from '../record/entry.ts';
import { escapeControls } from '../value/escape.ts';
import { type Block, faint, type Line, leftOut } from './block.ts';
import { differencesInShort, printUndecided } from './difference-words.ts';
import { entryLines, nearBlocks } from './entry-lines.ts';
import { countOf, kindWords } from './kind-words.ts';
import {
  always,
  count,
  leastOf,
  named,
  namedWhole,
  patternSaid,
  placed,
  timesIn,
  timesOf,
  type Words,
} from './words.ts';

/** How many entries of one kind, and how many differences of one entry, are listed before the rest is counted. */
const listedMost = 12;
/** How many differences are listed of an entry that is near, but not the nearest. */
const listedOfOthers = 3;

export const surplusWords: Words<CountDiagnosis> = {
  couldExplain: always,
  message(diagnosis) {
    const { fitting, fittingCount, range, culprits, kind } = diagnosis;
    const first = fitting.find((entry) => entry.id === culprits[0]);
    const who = first === undefined ? diagnosis.member : namedWhole(first);
    const where = placeWords(diagnosis);
    const expected = range.most === 0 ? 'none' : timesIn(range);
    const all = `${leastIn(diagnosis)}${countOf(fittingCount, kind)}${where}`;
    return `${who} is unexpected: ${all}, expected ${expected}`;
  },
  blocks(diagnosis, width) {
    const { fitting, fittingCount, culprits, range, kind } = diagnosis;
    const least = leastIn(diagnosis);
    const faulty = new Set(culprits);
    const [expected, note] =
      range.most === 0 ? ['none', 'not expected'] : [timesIn(range), 'unexpected'];
    const firstShown = Math.max(0, fitting.findIndex(({ id }) => faulty.has(id)) - 1);
    const shown =
      fitting.length <= listedMost ? fitting : fitting.slice(firstShown, firstShown + listedMost);
    return [
      `${least}${matching(fittingCount, kind)}, expected ${expected}:`,
      ...entryLines(shown, width, (entry) => (faulty.has(entry.id) ? note : undefined)),
      ...leftOut(fittingCount - shown.length, [`matching ${kind}`, `matching ${kind}s`], least),
    ];
  },
};

export const missingWords: Words<CountDiagnosis> = {
  // A plan requires the call, or one came near that should have matched. Else the test did not get there.
  couldExplain: ({ isPlan, nearest }) => isPlan || nearest.length > 0,
  message(diagnosis) {
    const { fitting, fittingCount, range, nearest, culprits, elsewhere, member, kind } = diagnosis;
    const near = nearest.find(({ entry }) => entry.id === culprits[0]);
    // A matching call that began in the stretch ended outside of it.
    if (near !== undefined && near.differences.length === 0)
      return `${named(near.entry)} matches, but not in the stretch`;
    if (near !== undefined) return `${named(near.entry)}: ${differencesInShort(near.differences)}`;
    const [other] = elsewhere;
    if (other !== undefined)
      return `${named(other)} was called, expected ${member} with these arguments`;
    const pattern = patternSaid(diagnosis.claimed);
    const never = came(diagnosis) ? 'never came' : kindWords[kind].never;
    const last = fitting.at(-1);
    if (last !== undefined) {
      const so = `${happened(diagnosis)} ${timesOf(fittingCount)}${placeWords(diagnosis)}`;
      return `${pattern} ${so}, expected ${timesIn(range)}; the last is ${named(last)}`;
    }
    if (diagnosis.calls === undefined) return `${pattern} ${never}${placeWords(diagnosis)}`;
    if (diagnosis.calls === 0)
      return `${neverHappened(diagnosis)}${placeWords(diagnosis)}${insteadOf(diagnosis)}`;
    const { calls } = diagnosis;
    const isOnly = calls === 1;
    const others = `${isOnly ? `only ${kindWords[kind].noun}` : countOf(calls, kind)} of ${member}`;
    return diagnosis.ofEnd || isStreamed(kind)
      ? `${pattern} never came${placeWords(diagnosis)}; there ${isOnly ? 'is' : 'are'} ${countOf(calls, kind)} of ${member}`
      : `${pattern} ${never}${placeWords(diagnosis)}; the ${others} ${isOnly ? 'has' : 'have'} other ${kind === 'write' ? 'values' : 'arguments'}`;
  },
  blocks(diagnosis, width) {
    const {
      fitting,
      fittingCount,
      range,
      calls,
      nearest,
      elsewhere,
      member,
      double,
      kind,
      others,
    } = diagnosis;
    const blocks: Block[] = [];
    if (fitting.length > 0) {
      const shown = fitting.slice(0, listedMost);
      blocks.push(
        `${matching(fittingCount, kind)}, expected ${timesIn(range)}:`,
        ...entryLines(shown, width),
        ...leftOut(fittingCount - shown.length, [`matching ${kind}`, `matching ${kind}s`]),
      );
    }
    if (elsewhere.length > 0)
      blocks.push(
        'the same arguments went to another member:',
        ...entryLines(elsewhere, width, (entry) => `not to ${nameWithin(member, double, entry)}`),
      );
    if (nearest.length > 0) {
      blocks.push(
        calls === undefined
          ? `${kindWords[kind].noun}s that come near:`
          : nearestHeading(
              nearest.length,
              calls - fittingCount,
              kindWords[kind].noun,
              fitting.length > 0,
            ),
        ...nearest.flatMap((near, at) =>
          nearBlocks(near, width, at === 0 ? listedMost : listedOfOthers),
        ),
      );
    } else if (others.length > 0 && calls !== undefined) {
      const left = calls - fittingCount;
      blocks.push(
        `the ${fitting.length > 0 ? 'other ' : left === 1 ? 'only ' : ''}${left === 1 ? kindWords[kind].noun : countOf(left, kind)} of ${member}:`,
        ...entryLines(others, width),
        ...leftOut(left - others.length, [kindWords[kind].noun, `${kindWords[kind].noun}s`]),
      );
    }
    if (calls === 0 && elsewhere.length === 0) blocks.push(...insteadLines(diagnosis));
    return blocks;
  },
};

export const undecidedWords: Words<UndecidedDiagnosis> = {
  message({ undecided, count: all, certain, tooMany }) {
    if (tooMany)
      return `cannot tell: of ${count(all, 'entry', 'entries')} it is not known whether they match, and there are too many ways to decide them`;
    const [near] = undecided;
    const [difference] = near?.differences.filter(({ kind }) => kind === 'opaque') ?? [];
    const because = difference === undefined ? '' : `: ${printUndecided(difference)}`;
    const who = near === undefined ? 'an entry' : named(near.entry);
    const rest = all > 1 ? `; and for ${all - 1} more` : '';
    const known = certain === undefined ? '' : `${certainly(certain.fitting)}; `;
    return `${known}cannot tell for ${who}${because}${rest}`;
  },
  blocks({ undecided, count: all, certain }, width) {
    const told = undecided.slice(0, listedOfOthers);
    const heading =
      certain === undefined
        ? 'the result depends on these, for which it is not known whether they match:'
        : `${certainly(certain.fitting)}, expected ${timesIn(certain.range)}; it is not known for:`;
    return [
      heading,
      ...told.flatMap((near, at) =>
        nearBlocks(near, width, at === 0 ? listedMost : listedOfOthers),
      ),
      ...leftOut(all - told.length, ['undecided entry', 'undecided entries']),
    ];
  },
};

function certainly(fitting: number): string {
  if (fitting === 0) return 'no certain match';
  return fitting === 1 ? '1 certainly matches' : `${fitting} certainly match`;
}

/**
 * `the only other call:`, `the nearest of 5 calls:`.
 *
 * @param other whether there are calls that fit beside them
 */
export function nearestHeading(shown: number, all: number, noun: string, other = true): string {
  const rest = other ? 'other ' : '';
  if (all === 1) return `the only ${rest}${noun}:`;
  if (shown === all) return shown === 2 ? `both ${rest}${noun}s:` : `all ${all} ${rest}${noun}s:`;
  return shown === 1
    ? `the nearest of ${all} ${noun}s:`
    : `the ${shown} nearest of ${all} ${noun}s:`;
}

type Kind = CountDiagnosis['kind'];

function neverHappened({ member, kind, streamEnded }: CountDiagnosis): string {
  const said = `${member} ${kindWords[kind].never}`;
  if (streamEnded === undefined) return said;
  const how = streamEnded.kind === 'end' ? 'completed' : 'failed';
  const why = streamEnded.kind === 'failure' ? ` with ${shortValue(streamEnded.args[0], 80)}` : '';
  return `${said}; it ${how} (#${streamEnded.id}${placed(streamEnded.site)})${why}`;
}

/** The verb for the counted events: it was called, or its ends came. */
function happened(diagnosis: CountDiagnosis): string {
  return came(diagnosis) ? 'came' : kindWords[diagnosis.kind].happened;
}

/** Whether the pattern is told as an event, and not by its member. */
function came({ ofEnd, kind }: CountDiagnosis): boolean {
  return ofEnd || kind === 'read' || kind === 'write';
}

/** Added before a number that was not counted to the end; of the whole record it was. */
function leastIn({ stretch, isPart }: CountDiagnosis): string {
  return leastOf({ isPart: isPart === true && stretch !== undefined });
}

/** Added to counts in a part of the record. */
function placeWords({ stretch }: Pick<CountDiagnosis, 'stretch'>): string {
  return stretch === undefined ? '' : ' in the stretch';
}

function insteadOf({ instead, double, kind, isFirst, stretch }: CountDiagnosis): string {
  if (isStreamed(kind) || stretch !== undefined) return '';
  if (isFirst) return '; nothing was called at all';
  const siblings = instead.filter((tally) => tally.double === double);
  if (siblings.length === 0) return '';
  return `; ${double === '' ? '' : `of ${escapeControls(double)} `}only ${tallies(siblings)}`;
}

/** `dome.open ×1, dome.close ×2`. */
function tallies(list: readonly { readonly label: string; readonly calls: number }[]): string {
  const shown = list.slice(0, 8).map(({ label, calls }) => `${label} ×${calls}`);
  return [...shown, ...(list.length > 8 ? [`… ${list.length - 8} more`] : [])].join(', ');
}

function matching(number: number, kind: Kind): string {
  return `${number} matching ${number === 1 ? kindWords[kind].noun : `${kindWords[kind].noun}s`}`;
}

/** The member's own name if the entry is on the same double, else the whole label. */
function nameWithin(member: string, double: string, entry: Entry): string {
  const near = member !== double && entry.double === double;
  return near ? member.slice(double.length) : member;
}

function insteadLines({
  instead,
  double,
  kind,
  isFirst,
  isUntouched,
}: CountDiagnosis): readonly Line[] {
  if (isStreamed(kind)) return [];
  if (isFirst)
    return [
      'nothing was called before this: was the code under test run, and awaited?',
      'if it was: was it handed these doubles?',
    ];
  const siblings = instead.filter((tally) => tally.double === double);
  const others = instead.filter((tally) => !siblings.includes(tally));
  const hint = isUntouched
    ? [`nothing of ${escapeControls(double)} was called: was it handed to the code under test?`]
    : [];
  const called = siblings.length > 0 ? [`called instead: ${tallies(siblings)}`] : [];
  const elsewhere = others.length > 0 ? [[faint(`on other doubles: ${tallies(others)}`)]] : [];
  return [...hint, ...called, ...elsewhere];
}
