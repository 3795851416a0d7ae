import type { CountDiagnosis, UndecidedDiagnosis } from '../explain/finding.ts';
import { shortValue } from '../notation/value.ts';
import { printRange } from '../pattern/multiplicity.ts';
import type { Entry } from '../record/entry.ts';
import type { Difference } from '../value/difference.ts';
import { escapeControls } from '../value/escape.ts';
import { printDifference, printUndecided } from './difference-words.ts';
import { entryLines, nearLines } from './entry-lines.ts';
import { type Layout, leftOut } from './layout.ts';
import { always, count, named, placed, type Words } from './words.ts';

/** How many entries of one kind, and how many differences of one entry, are listed before the rest is counted. */
const listedMost = 12;
/** How many differences are listed of an entry that is near, but not the nearest. */
const listedOfOthers = 3;

export const surplusWords: Words<CountDiagnosis> = {
  couldExplain: always,
  message({ fitting, fittingCount, range, culprits, kind }) {
    const first = fitting.find((entry) => entry.id === culprits[0]);
    const which = first === undefined ? '' : ` ${named(first)}`;
    if (range.most === 0) return `${countOf(fittingCount, kind)}; the first is${which}`;
    return `${countOf(fittingCount, kind)}, ${printRange(range)} claimed; one too many is${which}`;
  },
  lines({ fitting, fittingCount, culprits, range }, layout) {
    const faulty = new Set(culprits);
    const [claimed, note] =
      range.most === 0 ? ['none', 'not claimed'] : [printRange(range), 'too many'];
    const firstShown = Math.max(0, fitting.findIndex(({ id }) => faulty.has(id)) - 1);
    const shown =
      fitting.length <= listedMost ? fitting : fitting.slice(firstShown, firstShown + listedMost);
    return [
      `${entriesFit(fittingCount)}, ${claimed} claimed:`,
      ...entryLines(shown, layout, (entry) => (faulty.has(entry.id) ? note : undefined)),
      ...leftOut(fittingCount - shown.length, ['entry that fits', 'entries that fit'], layout),
    ];
  },
};

export const missingWords: Words<CountDiagnosis> = {
  // A plan requires the call, or one came near that should have fitted. Else the test did not get there.
  couldExplain: ({ isPlan, nearest }) => isPlan || nearest.length > 0,
  message(diagnosis) {
    const { fitting, fittingCount, range, nearest, elsewhere, kind } = diagnosis;
    const found =
      fitting.length === 0
        ? `no ${nounOf(kind)} fits`
        : `${countOf(fittingCount, kind)}, ${printRange(range)} claimed`;
    const [near] = nearest;
    const [other] = elsewhere;
    const sibling = other === undefined ? '' : `; the same arguments went to ${named(other)}`;
    if (near !== undefined)
      return `${found}; nearest is ${named(near.entry)}: ${inShort(near.differences)}${sibling}`;
    if (other !== undefined) return `${found}${sibling}`;
    const last = fitting[fitting.length - 1];
    if (last !== undefined) return `${found}; the last is ${named(last)}`;
    if (diagnosis.calls > 0) return `${found}; ${ownedElsewhere(diagnosis)}`;
    return `${neverHappened(diagnosis)}${insteadOf(diagnosis)}`;
  },
  lines(diagnosis, layout) {
    const { fitting, fittingCount, range, calls, nearest, elsewhere, member, double, kind } =
      diagnosis;
    const lines: string[] = [];
    if (calls === 0) {
      lines.push(`${neverHappened(diagnosis)}.`);
    } else if (fitting.length > 0) {
      const shown = fitting.slice(0, listedMost);
      lines.push(`${entriesFit(fittingCount)}, ${printRange(range)} claimed:`);
      lines.push(
        ...entryLines(shown, layout),
        ...leftOut(fittingCount - shown.length, ['entry that fits', 'entries that fit'], layout),
      );
    } else {
      lines.push(kind === 'call' ? 'no call fits.' : 'no entry fits.');
    }
    if (elsewhere.length > 0) {
      lines.push('the same arguments went to another member:');
      lines.push(
        ...entryLines(elsewhere, layout, (entry) => `not to ${nameWithin(member, double, entry)}`),
      );
    }
    if (nearest.length === 0 && calls > fittingCount && elsewhere.length === 0)
      lines.push(`${ownedElsewhere(diagnosis)}.`);
    if (nearest.length > 0) {
      lines.push(
        nearestHeading(nearest.length, calls - fittingCount, nounOf(kind), fitting.length > 0),
      );
      nearest.forEach((near, at) => {
        lines.push(...nearLines(near, layout, at === 0 ? listedMost : listedOfOthers));
      });
    }
    if (calls === 0 && elsewhere.length === 0) lines.push(...insteadLines(diagnosis, layout));
    return lines;
  },
};

export const undecidedWords: Words<UndecidedDiagnosis> = {
  message({ undecided, count: all, certain, tooMany }) {
    if (tooMany) {
      return `it is not known of ${count(all, 'entry', 'entries')} whether they fit, too many to look at every way to decide them`;
    }
    const [near] = undecided;
    const [difference] = near?.differences.filter(({ kind }) => kind === 'opaque') ?? [];
    const because = difference === undefined ? '' : `: ${printUndecided(difference)}`;
    const who = near === undefined ? 'an entry' : named(near.entry);
    const rest = all > 1 ? ` (and ${all - 1} more)` : '';
    const fitting =
      certain === undefined
        ? ''
        : `${certain.fitting === 1 ? '1 call certainly fits' : `${certain.fitting} calls certainly fit`}; `;
    return `${fitting}${who} is undecided${because}${rest}`;
  },
  lines({ undecided, count: all, certain }, layout) {
    const told = undecided.slice(0, listedOfOthers);
    const heading =
      certain === undefined
        ? 'whether it holds depends on these, of which it is not known whether they fit:'
        : `${certain.fitting === 1 ? '1 entry certainly fits' : `${certain.fitting} entries certainly fit`}, ${printRange(certain.range)} claimed; of these it is not known:`;
    return [
      heading,
      ...told.flatMap((near, at) =>
        nearLines(near, layout, at === 0 ? listedMost : listedOfOthers),
      ),
      ...leftOut(all - told.length, ['undecided entry', 'undecided entries'], layout),
    ];
  },
};

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

/** What is said of calls that do not fit, if other claims have a right to each of them. */
function ownedElsewhere({ calls, fittingCount, kind }: CountDiagnosis): string {
  const left = calls - fittingCount;
  const other = fittingCount > 0 ? 'other ' : '';
  return left === 1
    ? `the only ${other}${nounOf(kind)} is claimed by another claim`
    : `each of the ${left} ${other}${nounOf(kind)}s is claimed by another claim`;
}

type Kind = CountDiagnosis['kind'];

const nouns: { readonly [K in Kind]: string } = {
  call: 'call',
  read: 'read',
  write: 'write',
  item: 'item',
  end: 'end',
  failure: 'failure',
};

function nounOf(kind: Kind): string {
  return nouns[kind];
}

function countOf(number: number, kind: Kind): string {
  return count(number, nounOf(kind));
}

/** How many differences the sentence tells before the rest is counted. */
const differencesTold = 2;

function inShort(differences: readonly Difference[]): string {
  const told = differences.slice(0, differencesTold).map(printDifference);
  const rest = differences.length - told.length;
  return [...told, ...(rest > 0 ? [`… ${rest} more`] : [])].join('; ');
}

const never: { readonly [K in Kind]: string } = {
  call: 'was never called',
  read: 'was never read',
  write: 'was never written',
  item: 'gave no item',
  end: 'did not complete',
  failure: 'did not fail',
};

function neverHappened({ member, kind, streamEnded }: CountDiagnosis): string {
  const said = `${member} ${never[kind]}`;
  if (streamEnded === undefined) return said;
  const how = streamEnded.kind === 'end' ? 'completed' : 'failed';
  const why = streamEnded.kind === 'failure' ? ` with ${shortValue(streamEnded.args[0], 80)}` : '';
  return `${said}; it ${how} (#${streamEnded.id}${placed(streamEnded.site)})${why}`;
}

function isStream(kind: Kind): boolean {
  return kind === 'item' || kind === 'end' || kind === 'failure';
}

function insteadOf({ instead, double, kind }: CountDiagnosis): string {
  if (isStream(kind)) return '';
  const siblings = instead.filter((tally) => tally.double === double);
  if (siblings.length > 0)
    return `; ${double === '' ? '' : `of ${escapeControls(double)} `}only ${tallies(siblings)}`;
  return instead.length === 0
    ? '; nothing was called at all'
    : `; no member of ${escapeControls(double)} was called`;
}

/** `dome.open ×1, dome.close ×2`. */
function tallies(list: readonly { readonly label: string; readonly calls: number }[]): string {
  const shown = list.slice(0, 8).map(({ label, calls }) => `${label} ×${calls}`);
  return [...shown, ...(list.length > 8 ? [`… ${list.length - 8} more`] : [])].join(', ');
}

function entriesFit(number: number): string {
  return number === 1 ? '1 entry fits' : `${number} entries fit`;
}

/** The member's own name if the entry is on the same double, else the whole label. */
function nameWithin(member: string, double: string, entry: Entry): string {
  const near = member !== double && entry.double === double;
  return near ? member.slice(double.length) : member;
}

function insteadLines(
  { instead, double, kind }: CountDiagnosis,
  { paint }: Layout,
): readonly string[] {
  if (isStream(kind)) return [];
  if (instead.length === 0)
    return ['nothing was called at all: was the double handed to the code under test?'];
  const siblings = instead.filter((tally) => tally.double === double);
  const others = instead.filter((tally) => !siblings.includes(tally));
  const hint =
    siblings.length === 0
      ? [
          `no member of ${escapeControls(double)} was called: was this double handed to the code under test?`,
        ]
      : [];
  const called = siblings.length > 0 ? [`called instead: ${tallies(siblings)}`] : [];
  const elsewhere =
    others.length > 0 ? [paint('faint', `on other doubles: ${tallies(others)}`)] : [];
  return [...hint, ...called, ...elsewhere];
}
