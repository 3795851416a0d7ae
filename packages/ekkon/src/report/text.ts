import type { Finding, Verdict, Waited } from '../explain/finding.ts';
import { inQuotes } from '../value/escape.ts';
import { type Block, drawLine, faint, type Line, leftOut } from './block.ts';
import { changeLines, differenceLines } from './difference-lines.ts';
import { blocksOf } from './findings.ts';
import { changedFirst, failedIn, firstLine } from './first-line.ts';
import { groupsOf } from './groups.ts';
import { lanes } from './lanes.ts';
import { clip, margin } from './layout.ts';
import { namedMoment, printStretch } from './order-message.ts';
import { type Paint, unpainted } from './paint.ts';
import { printSite } from './places.ts';
import { pendingLines } from './rule-words.ts';
import { sinceLines } from './since-words.ts';
import { count, placed, printTime } from './words.ts';

export interface ReportOptions {
  /** Columns. Default 100. */
  readonly width?: number;
  /** Colours by role; none unless given. */
  readonly paint?: Paint;
  /** Whether to say where each claim is written, though a check's own error leads there. */
  readonly places?: boolean;
}

/** The layout of a report's text. */
interface Layout {
  readonly width: number;
  readonly paint: Paint;
}

/**
 * The text report of a verdict: the first line, which is enough on its own, then each finding with the entries that
 * matter, their differences and their call sites. Its length is bounded, and it says how much was left out.
 */
export function reportText(verdict: Verdict, options: ReportOptions = {}): string {
  const layout: Layout = { width: options.width ?? 100, paint: options.paint ?? unpainted };
  const { paint } = layout;
  const { findings, ledger, waited } = verdict;
  const whose = paint('faint', ` · ledger ${inQuotes(ledger)}`);
  const heading = headingOf(verdict);
  if (findings.length === 0) return `${paint('good', heading)}${whose}`;
  const isTold = verdict.closing || options.places === true;
  const isOfChange = changedFirst(verdict) !== undefined;
  const since =
    verdict.since === undefined
      ? []
      : [drawn(sinceLines(verdict.since, layout.width), layout).join('\n')];
  let number = 0;
  const blocks = boundedBlocks(
    groupsOf(verdict).map(({ message, findings: together }, at) => {
      const heads = together.map((finding) => headOf(finding, ++number, layout));
      return groupText(
        at === 0 && !isOfChange ? undefined : message,
        heads,
        linesBelow(together[0], isTold, layout),
        layout,
      );
    }),
    layout,
  );
  const standing = waited === undefined ? [] : drawn(standingLines(waited, layout.width), layout);
  const footers = footersOf(verdict).map((line) => paint('faint', line));
  return [
    paint('heading', firstLine(verdict)),
    ...since,
    ...blocks,
    ...(standing.length === 0 ? [] : [standing.map((line) => `${margin}${line}`).join('\n')]),
    ...footers,
    `${heading}${whose}`,
  ].join('\n\n');
}

/** Blocks as lines of text. */
function drawn(blocks: readonly Block[], { width, paint }: Layout): readonly string[] {
  return blocks.flatMap((block) => linesOf(block, width)).map((line) => drawLine(line, paint));
}

function linesOf(block: Block, width: number): readonly Line[] {
  if (typeof block === 'string' || !('is' in block)) return [block];
  switch (block.is) {
    case 'lanes':
      return lanes(block.entries, block.notes, width - margin.length);
    case 'differences':
      return differenceLines(block.differences, block.most, width);
    case 'changes':
      return changeLines(block.changes);
  }
}

/** The state of the work when a wait ended: its last event, and the pending calls. */
export function standingLines({ last, pending }: Waited, width: number): readonly Line[] {
  const ago = last?.ago === undefined ? '' : `, ${printTime(last.ago)} before`;
  return [
    ...(last === undefined ? [] : [`the last event is ${namedMoment(last)}${ago}`]),
    ...(pending.length === 0 ? [] : ['still pending:', ...pendingLines(pending, width)]),
  ];
}

/** Findings that are told as one: the sentence, unless it stands in the first line; the first whole; the others by their claims. */
function groupText(
  message: string | undefined,
  [head = '', ...others]: readonly string[],
  below: readonly string[],
  { paint }: Layout,
): string {
  const lead = message === undefined ? [] : [paint('culprit', message), ''];
  const rest = others.length === 0 ? [] : [paint('faint', 'for the same reason:')];
  return [...lead, head, ...[...below, ...rest].map((line) => `${margin}${line}`), ...others].join(
    '\n',
  );
}

/** Of records no longer than this it is not said that only a part was kept. */
const longRecord = 1_000;

/** Remarks on the making of a report, if it is not about the whole record. */
export function footersOf({ entries = 0, causesBounded }: Verdict): readonly string[] {
  const kept =
    entries > longRecord
      ? [`judged as it was read: of ${inThousands(entries)} entries, those are kept that say why`]
      : [];
  return causesBounded === true
    ? [...kept, 'there was too much to try: a cause that findings have in common may not be told']
    : kept;
}

/** Lines for the findings of one report; a finding without room is told by its claim alone. */
const linesShown = 44;
/** Findings that are told by their claim alone, before they are only counted. */
const claimsShown = 12;

/** The findings, the first whole and the others as far as there is room for them. */
function boundedBlocks(blocks: readonly string[], layout: Layout): readonly string[] {
  const shown: string[] = [];
  const rest: string[] = [];
  let room = linesShown;
  for (const block of blocks) {
    const lines = block.split('\n');
    if (rest.length === 0 && lines.length <= room) shown.push(block);
    else if (shown.length === 0) shown.push(cutBlock(lines, room, layout));
    else rest.push(lines[0] ?? '');
    room -= lines.length + 1;
  }
  if (rest.length === 0) return shown;
  const heads = rest.slice(0, claimsShown);
  const left = drawn(leftOut(rest.length - heads.length, ['finding', 'findings']), layout);
  return [...shown, [...heads, ...left.map((line) => `${margin}${line}`)].join('\n')];
}

function cutBlock(lines: readonly string[], room: number, layout: Layout): string {
  const kept = lines.slice(0, room - 1);
  const left = drawn(leftOut(lines.length - kept.length, ['line', 'lines']), layout);
  return [...kept, ...left.map((line) => `${margin}${line}`)].join('\n');
}

/** The last line of a report: how many claims hold, or do not. */
export function headingOf({ claims, findings, closing, waited }: Verdict): string {
  if (findings.length === 0) return claims === 1 ? 'the claim holds' : `all ${claims} claims hold`;
  if (waited !== undefined) return waitedHeading(waited);
  if (closing) return `${count(findings.length, 'problem')} at the end of the test`;
  const { failed, others } = failedIn(findings);
  if (claims === 0) return count(findings.length, 'problem');
  const beside =
    others === 0
      ? ''
      : `, and there ${others === 1 ? 'is' : 'are'} ${count(others, 'other problem')}`;
  if (failed === 0 && findings.some(({ code }) => code === 'cutOff'))
    return `it is not known whether ${claims === 1 ? 'the claim holds' : `the ${claims} claims hold`}`;
  if (failed === 0)
    return `${claims === 1 ? 'the claim holds' : `all ${claims} claims hold`}${beside.replace('other ', '')}`;
  if (claims === 1) return `the claim does not hold${beside}`;
  return `${failed} of ${claims} claims ${failed === 1 ? 'does' : 'do'} not hold${beside}`;
}

function waitedHeading({ ended, after }: Waited): string {
  switch (ended) {
    case 'time':
      return `timed out after ${printTime(after)}`;
    case 'lost':
      return `stopped after ${printTime(after)}: no later call can change this`;
    case 'broken':
      return `it held for ${printTime(after)}, and broke`;
    case 'finished':
      return `the work ended after ${printTime(after)}, and the claim does not hold`;
  }
}

/** A finding's claim with its number. */
function headOf({ claim }: Finding, number: number, { paint, width }: Layout): string {
  return `${String(number).padStart(2)}  ${paint('claim', clip(claim, width - margin.length))}`;
}

/** The lines below a finding's claim. */
function linesBelow(
  finding: Finding | undefined,
  closing: boolean,
  layout: Layout,
): readonly string[] {
  if (finding === undefined) return [];
  // A check's own error leads to its claims; findings at close have no such error.
  const isTold = closing || finding.code === 'vacuousClaim';
  const around = aroundOf(finding, isTold);
  return drawn([...around, ...blocksOf(finding, layout.width)], layout);
}

/** The lines above a finding: its stretch, and where its claim and its plan were written. */
export function aroundOf(finding: Finding, isPlaceTold = true): readonly Line[] {
  const planned = 'plannedAt' in finding ? printSite(finding.plannedAt) : '';
  const claimed = isPlaceTold ? printSite(finding.claimedAt) : '';
  return [
    ...(finding.stretch === undefined ? [] : [printStretch(finding.stretch)]),
    ...(claimed === '' ? [] : [[faint(`claim at ${claimed}`)]]),
    ...('reachedAt' in finding
      ? [`it was reached${placed(finding.reachedAt)} but no longer holds`]
      : []),
    ...('waitedAt' in finding
      ? [`the test still waited for it${placed(finding.waitedAt)} when it failed`]
      : []),
    ...(planned === '' ? [] : [[faint(`plan at ${planned}`)]]),
  ];
}

/** A whole number as English writes it: `12,000`. */
function inThousands(number: number): string {
  return number.toLocaleString('en-US');
}
