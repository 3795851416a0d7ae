import { printRange } from '../claim/multiplicity.ts';
import type {
  CountDiagnosis,
  Finding,
  UnclaimedEntries,
  Verdict,
  Waited,
} from '../explain/finding.ts';
import type { Entry } from '../record/entry.ts';
import { isMemberOf } from '../record/member.ts';
import { printDifference } from './difference-words.ts';
import { entryLines, nearLines } from './entry-lines.ts';
import { clip, type Layout, leftOut, margin } from './layout.ts';
import { printDrift, siblingsAmong, tallies } from './message.ts';
import { inFlightLines, orderLines, precedenceLines } from './order-lines.ts';
import { printStretch } from './order-message.ts';
import { type Paint, unpainted } from './paint.ts';
import { printSite } from './places.ts';
import { itemsLines, pendingLines, ruleLines } from './rule-lines.ts';
import { unplannedLines } from './unplanned-lines.ts';
import { count, placed, printTime } from './words.ts';

export interface ReportOptions {
  /** Columns. Default 100. */
  readonly width?: number;
  /** Colours by role; none unless given. */
  readonly paint?: Paint;
}

/** How many entries of one kind, and how many differences of one entry, are listed before the rest is counted. */
const listedMost = 12;
/** How many differences are listed of an entry that is near, but not the nearest. */
const listedOfOthers = 3;

/**
 * The text report of a verdict: each finding with the entries that matter, where they differ and where
 * they were called. Output is bounded, and says what was left out.
 */
export function reportText(verdict: Verdict, options: ReportOptions = {}): string {
  const layout: Layout = { width: options.width ?? 100, paint: options.paint ?? unpainted };
  const { paint } = layout;
  const { findings, claims, ledger, waited } = verdict;
  const whose = paint('faint', ` · ledger "${ledger}"`);
  if (findings.length === 0) {
    return `${paint('good', claims === 1 ? 'the claim holds' : `all ${claims} claims hold`)}${whose}`;
  }
  const heading = headingOf(verdict);
  const blocks = findings.map((finding, at) =>
    findingText(finding, at + 1, verdict.closing, layout),
  );
  const pending =
    waited === undefined || waited.pending.length === 0
      ? []
      : [
          ['still pending:', ...pendingLines(waited.pending, layout)]
            .map((line) => `${margin}${line}`)
            .join('\n'),
        ];
  return [`${paint('heading', heading)}${whose}`, ...blocks, ...pending].join('\n\n');
}

function headingOf({ claims, findings, closing, waited }: Verdict): string {
  if (waited !== undefined) return waitedHeading(waited);
  if (closing) return `closed with ${count(findings.length, 'finding')}`;
  if (claims === 1) return 'the claim does not hold';
  return `${findings.length} of ${claims} claims ${findings.length === 1 ? 'does' : 'do'} not hold`;
}

function waitedHeading({ ended, after }: Waited): string {
  switch (ended) {
    case 'time':
      return `waited ${printTime(after)} in vain`;
    case 'lost':
      return `no call to come can change this, after ${printTime(after)}`;
    case 'broken':
      return `it held for ${printTime(after)}, and broke`;
  }
}

function findingText(finding: Finding, number: number, closing: boolean, layout: Layout): string {
  const { paint, width } = layout;
  const claim = clip(finding.claim, width - margin.length);
  const head = `${String(number).padStart(2)}  ${paint('claim', claim)}`;
  const planned = 'plannedAt' in finding ? printSite(finding.plannedAt) : '';
  // A check's own error leads to its claims; what is found at close has nothing else that does.
  const isTold = closing || finding.code === 'vacuousClaim';
  const claimed = isTold ? printSite(finding.claimedAt) : '';
  const stretch = finding.stretch === undefined ? [] : [printStretch(finding.stretch)];
  const lines = [
    ...stretch,
    ...(claimed === '' ? [] : [paint('faint', `claimed in ${claimed}`)]),
    ...('reachedAt' in finding
      ? [`it was reached${placed(finding.reachedAt)}, and does not hold any more`]
      : []),
    ...(planned === '' ? [] : [paint('faint', `planned in ${planned}`)]),
    ...linesOf(finding, layout),
  ];
  return [head, ...lines.map((line) => `${margin}${line}`)].join('\n');
}

function linesOf(finding: Finding, layout: Layout): readonly string[] {
  switch (finding.code) {
    case 'surplusCall':
      return surplusLines(finding, layout);
    case 'missingCall':
      return missingLines(finding, layout);
    case 'undecidedCall':
      return undecidedLines(finding, layout);
    case 'unplannedCall':
    case 'unknownMember':
      return [...entryLines([finding.entry], layout), ...unplannedLines(finding)];
    case 'changedSlot':
      return [finding.message];
    case 'drift':
      return finding.drifts.map(printDrift);
    case 'outOfOrder':
      return orderLines(finding, layout);
    case 'tooEarly':
    case 'neverFollowed':
      return precedenceLines(finding, layout);
    case 'inFlight':
      return inFlightLines(finding, layout);
    case 'unclaimedEntries':
      return unclaimedLines(finding, layout);
    case 'inexactItems':
      return itemsLines(finding, layout);
    case 'vacuousClaim':
      return [finding.message.endsWith('?') ? finding.message : `${finding.message}.`];
    case 'unclaimedCall':
      return unclaimedLines(finding, layout);
    default:
      return ruleLines(finding, layout);
  }
}

function unclaimedLines(
  { entries, count: all }: UnclaimedEntries,
  layout: Layout,
): readonly string[] {
  const lines = entries.flatMap(({ entry, nearest }) => [
    ...entryLines([entry], layout),
    ...(nearest === undefined
      ? []
      : [
          `     nearest: ${clip(nearest.plan, layout.width - 20)}   ${nearest.differences.slice(0, 1).map(printDifference).join('')}`,
        ]),
  ]);
  return [...lines, ...leftOut(all - entries.length, 'entries', layout)];
}

function undecidedLines(
  { fitting, range, nearest }: CountDiagnosis,
  layout: Layout,
): readonly string[] {
  return [
    `${entriesFit(fitting.length)} for sure, ${printRange(range)} claimed; of these it cannot be told:`,
    ...nearest.flatMap((near, at) =>
      nearLines(near, layout, at === 0 ? listedMost : listedOfOthers),
    ),
  ];
}

function surplusLines(
  { fitting, culprits, range }: CountDiagnosis,
  layout: Layout,
): readonly string[] {
  const faulty = new Set(culprits);
  const [claimed, note] =
    range.most === 0 ? ['none', 'not claimed'] : [printRange(range), 'too many'];
  const firstShown = Math.max(0, fitting.findIndex(({ id }) => faulty.has(id)) - 1);
  const shown =
    fitting.length <= listedMost ? fitting : fitting.slice(firstShown, firstShown + listedMost);
  return [
    `${entriesFit(fitting.length)}, ${claimed} claimed:`,
    ...entryLines(shown, layout, (entry) => (faulty.has(entry.id) ? note : undefined)),
    ...leftOut(fitting.length - shown.length, 'entries that fit', layout),
  ];
}

function missingLines(finding: CountDiagnosis, layout: Layout): readonly string[] {
  const { fitting, range, calls, nearest, elsewhere, instead, member, double } = finding;
  const lines: string[] = [];
  if (calls === 0) {
    lines.push(`${member} was never called.`);
  } else if (fitting.length > 0) {
    const shown = fitting.slice(0, listedMost);
    lines.push(`${entriesFit(fitting.length)}, ${printRange(range)} claimed:`);
    lines.push(
      ...entryLines(shown, layout),
      ...leftOut(fitting.length - shown.length, 'entries that fit', layout),
    );
  } else {
    lines.push('no entry fits.');
  }
  if (elsewhere.length > 0) {
    lines.push('the same arguments went to another member:');
    lines.push(
      ...entryLines(elsewhere, layout, (entry) => `not to ${nameWithin(member, double, entry)}`),
    );
  }
  if (nearest.length > 0) {
    lines.push(
      `the nearest of ${calls - fitting.length}${nearest.length > 1 ? `, and ${nearest.length - 1} more` : ''}:`,
    );
    nearest.forEach((near, at) => {
      lines.push(...nearLines(near, layout, at === 0 ? listedMost : listedOfOthers));
    });
  }
  if (calls === 0 && elsewhere.length === 0) lines.push(...insteadLines(instead, double, layout));
  return lines;
}

function entriesFit(number: number): string {
  return number === 1 ? '1 entry fits' : `${number} entries fit`;
}

/** The member's own name where the entry is on the same double, else the whole label. */
function nameWithin(member: string, double: string, entry: Entry): string {
  const near = member !== double && isMemberOf(entry.label, double);
  return near ? member.slice(double.length) : member;
}

function insteadLines(
  instead: CountDiagnosis['instead'],
  double: string,
  { paint }: Layout,
): readonly string[] {
  if (instead.length === 0)
    return ['nothing at all was called: was the double handed to the code under test?'];
  const siblings = siblingsAmong(instead, double);
  const others = instead.filter((tally) => !siblings.includes(tally));
  const hint =
    siblings.length === 0
      ? [`no member of ${double} was: was this double handed to the code under test?`]
      : [];
  const called = siblings.length > 0 ? [`called instead: ${tallies(siblings)}`] : [];
  const elsewhere =
    others.length > 0 ? [paint('faint', `on other doubles: ${tallies(others)}`)] : [];
  return [...hint, ...called, ...elsewhere];
}
