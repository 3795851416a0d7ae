import type { Cause } from '../explain/cause.ts';
import type { Diagnosis, Finding, Moment, Verdict } from '../explain/finding.ts';
import { printLine, printPath } from '../notation/value.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Difference } from '../value/difference.ts';
import { type Block, besideEachOther, type Line, piecesOf } from './block.ts';
import { textChanges } from './difference-lines.ts';
import { opaqueBecause, printChange, printDifference, sides } from './difference-words.ts';
import { blocksOf, orderedBy } from './findings.ts';
import { firstLine } from './first-line.ts';
import { groupsOf } from './groups.ts';
import type { Role } from './paint.ts';
import { type ToldSince, toldSince } from './since-data.ts';
import { aroundOf, footersOf, headingOf, standingLines } from './text.ts';

/** A part of a line, and its role. */
export interface ToldText {
  readonly text: string;
  readonly role?: Role;
}

/** A line of a report. */
export type ToldLine = readonly ToldText[];

/** Where two values differ: the path, and the explanation, a line each. */
export interface ToldDifference {
  readonly path: readonly string[];
  readonly says: readonly ToldLine[];
}

/** A part of a report below a claim: a line, or differences for a tree. */
export type ToldBlock =
  | { readonly is: 'line'; readonly line: ToldLine }
  | { readonly is: 'differences' | 'changes'; readonly differences: readonly ToldDifference[] };

/** An entry's beginning or its end. */
export interface ToldMoment {
  readonly entry: number;
  readonly end: boolean;
}

/** A finding as data that a page can draw: everything that a text report says of it. */
export interface ToldFinding {
  readonly code: string;
  readonly claim: string;
  readonly message: string;
  readonly blocks: readonly ToldBlock[];
  /** Ids of the entries at fault, the first the likeliest. */
  readonly culprits: readonly number[];
  /** The notes beside events in the lanes. */
  readonly notes: readonly (ToldMoment & { readonly says: string })[];
  /** Two events that were expected in this order, and came in the other one. */
  readonly order?: { readonly earlier: ToldMoment; readonly later: ToldMoment };
  /** The ticks between which it was judged; `null` for an end of the record. */
  readonly stretch?: { readonly after: number | null; readonly before: number | null };
}

/** A verdict as data that a page can draw. */
export interface ToldVerdict {
  readonly holds: boolean;
  /** One line that is enough on its own. */
  readonly first: string;
  readonly heading: string;
  /** The claims that were judged as written, each with the places of its findings. */
  readonly claims: readonly { readonly notation: string; readonly findings: readonly number[] }[];
  readonly causes: readonly Cause[];
  /** The findings in the order of time, by their places: those of one cause together, with the sentence that tells it. */
  readonly groups: readonly { readonly message: string; readonly findings: readonly number[] }[];
  readonly findings: readonly ToldFinding[];
  /** Where the work stood when a wait ended. */
  readonly standing: readonly ToldLine[];
  /** Remarks on the making of the verdict. */
  readonly footers: readonly string[];
  /** What changed since the test last passed, if that is known. */
  readonly since?: ToldSince;
}

/** Columns of a line on a page. */
const width = 100;

/**
 * A verdict with all its words as plain data, for a page that has no claims at hand.
 *
 * @param claims the judged claims, as far as they are known
 */
export function toldVerdict(verdict: Verdict, claims: readonly Claim[] = []): ToldVerdict {
  const { holds, findings, causes, waited } = verdict;
  return {
    holds,
    first: holds ? '' : firstLine(verdict),
    heading: headingOf(verdict),
    claims: claims.map((claim) => ({
      notation: claim.notation,
      findings: findings.flatMap(({ of }, at) => (of === claim ? [at] : [])),
    })),
    causes,
    groups: groupsOf(verdict).map(({ message, findings: together }) => ({
      message,
      findings: together.map((finding) => findings.indexOf(finding)),
    })),
    findings: findings.map(toldFinding),
    standing: (waited === undefined ? [] : standingLines(waited, width)).map(toldLine),
    footers: footersOf(verdict),
    ...(verdict.since === undefined ? {} : { since: toldSince(verdict.since, width) }),
  };
}

function toldFinding(finding: Finding): ToldFinding {
  const { code, claim, message, culprits, stretch } = finding;
  const blocks = blocksOf(finding, width);
  const notes = blocks.flatMap((block) => (isLanes(block) ? drawnNotes(block.notes) : []));
  return {
    code,
    claim,
    message,
    blocks: [
      ...aroundOf(finding).map(lineBlock),
      ...blocks.flatMap((block) => (isLanes(block) ? [] : [toldBlock(block)])),
    ],
    culprits,
    notes: notes.length > 0 ? notes : noteOf(finding),
    ...orderOf(finding),
    ...(stretch === undefined
      ? {}
      : { stretch: { after: finite(stretch.after), before: finite(stretch.before) } }),
  };
}

type Lanes = Extract<Block, { readonly is: 'lanes' }>;

/** The page draws lanes of the whole record. */
function isLanes(block: Block): block is Lanes {
  return typeof block !== 'string' && 'is' in block && block.is === 'lanes';
}

function toldBlock(block: Exclude<Block, Lanes>): ToldBlock {
  if (typeof block === 'string' || !('is' in block)) return lineBlock(block);
  return block.is === 'changes'
    ? { is: 'changes', differences: block.changes.map(toldChange) }
    : { is: 'differences', differences: block.differences.map(toldDifference) };
}

function lineBlock(line: Line): ToldBlock {
  return { is: 'line', line: toldLine(line) };
}

function drawnNotes(notes: ReadonlyMap<string, string>): ToldFinding['notes'] {
  return [...notes].map(([key, says]) => ({ ...momentOf(key), says }));
}

/** Beside the call at fault, where it is not as expected. */
function noteOf({ culprits, differences = [] }: Finding): ToldFinding['notes'] {
  const [entry] = culprits;
  const [first] = differences;
  if (entry === undefined || first === undefined) return [];
  return [{ entry, end: false, says: printDifference(first) }];
}

/** The two events in the wrong order, if that is the finding. */
function orderOf(diagnosis: Diagnosis): Pick<ToldFinding, 'order'> {
  const [earlier, later] = orderedBy(diagnosis);
  if (earlier === undefined || later === undefined) return {};
  return { order: { earlier: toldMoment(earlier), later: toldMoment(later) } };
}

function toldMoment({ entry, end }: Moment): ToldMoment {
  return { entry: entry.id, end };
}

function momentOf(key: string): ToldMoment {
  const [id, end] = key.split(' ');
  return { entry: Number(id), end: end === 'end' };
}

function finite(tick: number): number | null {
  return Number.isFinite(tick) ? tick : null;
}

function toldDifference(difference: Difference): ToldDifference {
  const { path, kind, expected, received } = difference;
  const steps = path.map((_, at) => printPath(path.slice(at, at + 1)));
  const changes = textChanges(difference, width);
  if (changes !== undefined) return { path: steps, says: changes.map(toldLine) };
  const says = [besideEachOther(sides(difference, printed(expected), printed(received)))];
  if (kind === 'opaque') says.push(`not known: ${opaqueBecause(difference)}`);
  return { path: steps, says: says.map(toldLine) };
}

function toldChange(change: Difference): ToldDifference {
  const { path } = change;
  const steps = path.map((_, at) => printPath(path.slice(at, at + 1)));
  const [was = '', is = ''] = printChange(change);
  return { path: steps, says: [toldLine(`${was.slice(printPath(path).length).trim()}   ${is}`)] };
}

function printed(value: unknown): string {
  return printLine(value, { items: 20, text: 400 });
}

function toldLine(line: Line): ToldLine {
  return piecesOf(line)
    .map((part) => (typeof part === 'string' ? { text: part } : part))
    .filter(({ text }) => text !== '');
}
