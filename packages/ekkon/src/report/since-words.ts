import type { Change, ChangeGroup, Since } from '../explain/since.ts';
import { printCall } from '../notation/call.ts';
import { printPath, shortValue } from '../notation/value.ts';
import type { Entry } from '../record/entry.ts';
import type { Difference } from '../value/difference.ts';
import { intrinsics } from '../value/intrinsics.ts';
import {
  besideEachOther,
  drawLine,
  faint,
  indented,
  type Line,
  leftOut,
  piece,
  textOf,
} from './block.ts';
import { bothShown } from './difference-words.ts';
import { clip, margin } from './layout.ts';
import type { Paint } from './paint.ts';
import { printSite, printSiteBeside } from './places.ts';
import { count, listed } from './words.ts';

/** Characters of the sentence that names the first change. */
const longest = 120;

/** Characters of a value in that sentence: as many as there is room for. */
const valuesShown = [40, 30, 20, 14, 8];

export const lastPassed = 'when this test last passed';

/**
 * The first change in one sentence, for the first line of a report; `undefined` if nothing changed.
 *
 * @param then when things were otherwise
 */
export function sinceSentence({ groups }: Since, then = lastPassed): string | undefined {
  const [first] = groups;
  if (first === undefined) return undefined;
  const site = siteOf(first.changes[0]);
  // Of calls that are missing together, their names say more.
  const isPlaceless = site === '' || (first.changes[0].is === 'gone' && first.changes.length > 1);
  const places = isPlaceless ? [''] : [` (${site})`, ` (${site.replace(/^.*[/\\]/, '')})`];
  for (const room of valuesShown) {
    for (const place of places) {
      const sentence = `${sentenceOf(first, room, then)}${place}`;
      if (sentence.length <= longest) return sentence;
    }
  }
  return clip(sentenceOf(first, 8, then), longest);
}

/** Where a change is in the code: where it is now, or where it was if it is gone. */
function siteOf(change: Change): string {
  return printSite(entryOf(change).site);
}

function entryOf(change: Change): Entry {
  return 'now' in change ? change.now : change.was;
}

function sentenceOf({ changes }: ChangeGroup, room: number, then: string): string {
  const [change] = changes;
  switch (change.is) {
    case 'gone':
      return goneSentence(changes, change.after, room, then);
    case 'new':
      return changes.length === 1
        ? `${nameOf(change.now)} is new${sinceThen(then)}`
        : `${nameOf(change.now)} and ${count(changes.length - 1, 'call')} after it are new${sinceThen(then)}`;
    case 'replaced':
      return `${nameOf(change.now)} was called, and ${change.was.label} ${then}`;
    case 'changed':
      return `${nameOf(change.now)}${argumentPart(change, room, then)}`;
    case 'outcome':
      return `${nameOf(change.now)} ${endOf(change.now, room)}, and ${endOf(change.was, room)} ${then}`;
    case 'moved':
      return `${nameOf(change.now)} came ${change.isBefore ? 'before' : 'after'} ${nameOf(change.beside)}, and ${change.isBefore ? 'after' : 'before'} it ${then}`;
    case 'ended':
      return change.isBefore
        ? `${nameOf(change.now)} ended before ${nameOf(change.beside)} began, and later ${then}`
        : `${nameOf(change.now)} had not ended when ${nameOf(change.beside)} began, as it had ${then}`;
  }
}

function sinceThen(then: string): string {
  return then === lastPassed ? ' since this test last passed' : '';
}

function nameOf({ id, label }: Entry): string {
  return `#${id} ${label}`;
}

function goneSentence(
  changes: readonly Change[],
  after: Entry | undefined,
  room: number,
  then: string,
): string {
  const labels = [...new Set(changes.flatMap((each) => ('was' in each ? each.was.label : [])))];
  const where = after === undefined ? 'at the start' : `after ${nameOf(after)}`;
  return changes.length === 1
    ? `${labels.join('')} is missing ${where}, and came there ${then}`
    : `${changes.length} calls are missing ${where} that came ${then}: ${listed(labels, Math.ceil(room / 10))}`;
}

/** The difference in the arguments of a call. */
function argumentPart(
  { was, now, differences }: Extract<Change, { readonly differences: unknown }>,
  room: number,
  then: string,
): string {
  const [first] = differences;
  if (first === undefined) return '';
  const [one, other] = [was, now].map(({ args }) => args.length);
  const isWhole = first.path.length === 1 && one === 1 && other === 1 && first.kind === 'changed';
  const [before, here] = bothShown(first, room);
  if (isWhole) return ` was given ${here}, and ${before} ${then}`;
  if (areSwapped(differences)) return `: ${swapped(differences)}, and were not ${then}`;
  const path = `: ${printPath(first.path)}`;
  switch (first.kind) {
    case 'missing':
      return `${path} is missing, and was ${before} ${then}`;
    case 'surplus':
      return `${path} is ${here}, and was not there ${then}`;
    case 'moved':
    case 'renamed':
      return `${path} stood at ${printPath([first.from ?? ''])} ${then}`;
    case 'changed':
    case 'type':
    case 'opaque':
      return `${path} is ${here}, and was ${before} ${then}`;
  }
}

function areSwapped([one, other, ...more]: readonly Difference[]): boolean {
  return one?.kind === 'moved' && other?.kind === 'moved' && more.length === 0;
}

function swapped(differences: readonly Difference[]): string {
  return `${differences.map(({ path }) => printPath(path)).join(' and ')} are swapped`;
}

/** How a call ended: `returned 4`, `threw Error("wind")`, `has not ended`. */
function endOf({ outcome }: Entry, room: number): string {
  switch (outcome.state) {
    case 'running':
    case 'pending':
      return 'has not ended';
    case 'returned':
    case 'fulfilled':
      return `${outcome.state} ${shortValue(outcome.value, room)}`;
    case 'threw':
    case 'rejected':
      return `${outcome.state} ${shortValue(outcome.reason, room).replace(/^new /, '')}`;
  }
}

/** The changes since the test last passed, in lines: how many, the first change, and the first to an expected member. */
export function sinceLines(since: Since, width: number): readonly Line[] {
  const { groups, firstClaimed, changedCalls, counts } = since;
  const when = `${printDate(since.passedAt)}, ${count(since.calls, 'call')}`;
  if (counts !== undefined) {
    const told = counts.map(({ label, was, is }) => `${label} ×${is}, was ×${was}`);
    return [
      [piece('heading', `since it last passed (${when}): hardly anything is as it was`)],
      ...told.slice(0, countsShown).map((line) => `${margin}${line}`),
    ];
  }
  const [first] = groups;
  const stop = since.stopped === undefined ? [] : [`  ${stoppedLine(since.stopped)}`];
  if (first === undefined && since.stopped !== undefined && since.stopped.later > 0)
    return [
      [piece('heading', `since it last passed (${when}): nothing changed up to where it stopped`)],
      ...stop,
    ];
  if (first === undefined) {
    return [`the record is the same as when this test last passed (${when})${sameBecause(since)}`];
  }
  const total = `${count(groups.length, 'change')} in ${count(changedCalls, 'call')}`;
  const rows = [
    rowFor('first', first, width),
    ...(firstClaimed === undefined
      ? []
      : [rowFor('first claimed', { changes: [firstClaimed], again: [] }, width)]),
  ];
  return [
    [piece('heading', `since it last passed (${when}): ${total}`)],
    ...inColumns(rows, width).map((line) => indented(line, '  ')),
    ...stop,
  ];
}

/** The end of the sentence if there is no change: then the test changed, unless something else may have. */
function sameBecause({ unsteady, undecided, stopped }: Since): string {
  if (undecided > 0) return ', as far as can be told';
  if (unsteady > 0) return ', but for what differs from run to run';
  return stopped === undefined ? ': what changed is the test' : ': no double heard what changed';
}

/** Where a test stopped on an error of its own. */
function stoppedLine({ after, later }: NonNullable<Since['stopped']>): string {
  const where = after === undefined ? 'before any call' : `after ${nameOf(after)}`;
  return later === 0
    ? `it stopped ${where}, which was the last call then, too`
    : `it stopped ${where}; ${count(later, 'call')} came later then`;
}

/** What changed since a test last passed that failed on an error of its own, to be told below that. */
export function sinceText(since: Since): string {
  return sinceLines(since, 100).map(textOf).join('\n');
}

/** Members whose counts are shown if that is all that can be said. */
const countsShown = 8;

interface Row {
  readonly title: string;
  readonly number: string;
  readonly call: string;
  readonly what: string;
  readonly site: string;
}

/** Changes that `ekkon compare` and a page show. */
export const changesShown = 200;

/** The differences between two records: a line for each group of changes, and the calls that came or went together. */
export function comparisonText(
  since: Since,
  { width, paint }: { readonly width: number; readonly paint: Paint },
): string {
  const { groups, firstClaimed, changedCalls, counts } = since;
  if (counts !== undefined) {
    const told = counts.map(({ label, was, is }) => `${margin}${label} ×${is}, was ×${was}`);
    return [paint('heading', 'the records have hardly anything in common'), ...told].join('\n');
  }
  if (groups.length === 0) return paint('good', 'the records are the same');
  const shown = groups.slice(0, changesShown);
  const rows = inColumns(
    shown.map((group, at) => rowFor(titleOf(group, at, firstClaimed), group, width)),
    width,
  );
  const total = `${count(groups.length, 'change')} in ${count(changedCalls, 'call')}`;
  return [
    paint('heading', total),
    '',
    ...shown.flatMap((group, at) => [
      `  ${drawLine(rows[at] ?? '', paint)}`,
      ...memberLines(group, width),
    ]),
    ...leftOut(groups.length - shown.length, ['change', 'changes']).map((line) =>
      drawLine(line, paint),
    ),
  ].join('\n');
}

export function titleOf({ changes }: ChangeGroup, at: number, claimed: Change | undefined): string {
  if (at === 0) return 'first';
  return claimed !== undefined && changes.includes(claimed) ? 'first claimed' : '';
}

/** The later ones of calls that came or went together, and the differences that a line has no room for. */
export function memberLines({ changes }: ChangeGroup, width: number): readonly string[] {
  const [first, ...more] = changes;
  const room = Math.max(40, width - 40);
  const calls = more.map((change) =>
    'now' in change ? `#${change.now.id} ${printCall(change.now)}` : printCall(change.was),
  );
  const all = 'differences' in first ? first.differences : [];
  const differences = areSwapped(all) ? [] : all.slice(1);
  const lines = [
    ...calls.map((call) => clip(call, room)),
    ...differences.slice(0, differencesShown).map((each) => differenceOf(each, room)),
  ];
  const rest = differences.length - differencesShown;
  return [...lines, ...(rest > 0 ? [`… ${rest} more`] : [])].map((line) => `${margin}     ${line}`);
}

/** Differences of one call that `ekkon compare` shows. */
const differencesShown = 6;

function inColumns(rows: readonly Row[], width: number): readonly Line[] {
  const widest = (key: keyof Row) => Math.max(...rows.map((row) => row[key].length));
  const [title, number, what] = [widest('title'), widest('number'), widest('what')];
  const room = Math.max(28, width - title - number - what - widest('site') - 14);
  const call = Math.min(room, widest('call'));
  return rows.map((row) =>
    besideEachOther([
      row.title.padEnd(title),
      row.number.padEnd(number),
      clip(row.call, call).padEnd(call),
      [piece('culprit', row.site === '' ? row.what : row.what.padEnd(what))],
      ...(row.site === '' ? [] : [[faint(row.site)]]),
    ]),
  );
}

export function rowFor(title: string, group: ChangeGroup, width: number): Row {
  const [change] = group.changes;
  const shown = entryOf(change);
  const number = 'now' in change ? `#${change.now.id}` : '';
  const again =
    group.again.length === 0 ? '' : `, and in ${count(group.again.length, 'later call')}`;
  const what = `${whatOf(group, Math.max(16, Math.floor(width / 5)))}${again}`;
  return { title, number, call: printCall(shown), what, site: printSiteBeside(shown.site, width) };
}

/** The change itself, beside its call. */
export function whatOf({ changes }: ChangeGroup, room: number): string {
  const [change] = changes;
  const more = changes.length - 1;
  switch (change.is) {
    case 'gone': {
      const where = change.after === undefined ? 'at the start' : `after ${nameOf(change.after)}`;
      return `missing ${where}${more > 0 ? `, and ${count(more, 'call')} more` : ''}`;
    }
    case 'new':
      return `new${more > 0 ? `, and ${count(more, 'call')} more` : ''}`;
    case 'replaced':
      return `was ${change.was.label}`;
    case 'changed': {
      const rest = change.differences.length - 1;
      const [first] = change.differences;
      if (areSwapped(change.differences)) return swapped(change.differences);
      const told = first === undefined ? '' : differenceOf(first, room);
      return `${told}${rest > 0 ? `; ${rest} more` : ''}`;
    }
    case 'outcome':
      return `${endOf(change.now, room)}; ${endOf(change.was, room)} then`;
    case 'moved':
      return `${change.isBefore ? 'came after' : 'came before'} ${nameOf(change.beside)} then`;
    case 'ended':
      return change.isBefore
        ? `ended after ${nameOf(change.beside)} began then`
        : `had ended before ${nameOf(change.beside)} then`;
  }
}

/** A difference from then to now: `[0].dec was 22, is 0`. */
function differenceOf({ path, kind, expected, received, from }: Difference, room: number): string {
  const value = (side: unknown) => shortValue(side, room);
  const place = printPath(path);
  const lead = place === '' ? '' : `${place} `;
  switch (kind) {
    case 'missing':
      return `${lead}was ${value(expected)}, is missing`;
    case 'surplus':
      return `${lead}was not there, is ${value(received)}`;
    case 'moved':
    case 'renamed':
      return `${lead}was at ${printPath([from ?? ''])}`;
    case 'changed':
    case 'type':
    case 'opaque':
      return `${lead}was ${value(expected)}, is ${value(received)}`;
  }
}

const months = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ');

/** A time as one reads it where the process runs: `26 Nov 14:02`. */
function printDate(at: number): string {
  const date = new intrinsics.Date(at);
  const two = (number: number) => String(number).padStart(2, '0');
  return `${date.getDate()} ${months[date.getMonth()]} ${two(date.getHours())}:${two(date.getMinutes())}`;
}
