import type { Cause } from '../explain/cause.ts';
import type { Diagnosis, Finding, Moment, Verdict } from '../explain/finding.ts';
import { printLine, printPath } from '../notation/value.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Difference } from '../value/difference.ts';
import { textChanges } from './difference-lines.ts';
import { opaqueBecause, printChange, printDifference, sides } from './difference-words.ts';
import { linesOf, orderedBy } from './findings.ts';
import { firstLine } from './first-line.ts';
import { groupsOf } from './groups.ts';
import type { Layout } from './layout.ts';
import { type Paint, type Role, unpainted } from './paint.ts';
import { type ToldSince, toldSince } from './since-data.ts';
import { aroundOf, footersOf, headingOf, standingLines } from './text.ts';

/** A stretch of text, and what it is. */
export interface ToldText {
  readonly text: string;
  readonly role?: Role;
}

/** A line of a report. */
export type ToldLine = readonly ToldText[];

/** Where two values differ: the steps that lead there, and what is said of it, a line each. */
export interface ToldDifference {
  readonly path: readonly string[];
  readonly says: readonly ToldLine[];
}

/** What a report shows below a claim: a line, or differences for a tree. */
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
  /** What is said beside events in the lanes. */
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
  /** What is said of how the verdict came about. */
  readonly footers: readonly string[];
  /** What changed since the test last passed, if that is known. */
  readonly since?: ToldSince;
}

/** Columns of a line on a page. */
const width = 100;

const unpaintedPage: Layout = { width, paint: unpainted };

/**
 * A verdict with all its words as plain data, for what draws it where the claims are not at hand.
 *
 * @param claims those that were judged, as far as they are known
 */
export function toldVerdict(verdict: Verdict, claims: readonly Claim[] = []): ToldVerdict {
  const { holds, findings, causes, waited } = verdict;
  const layout: Layout = { width, paint: asRoles };
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
    standing: (waited === undefined ? [] : standingLines(waited, layout)).map(toldLine),
    footers: footersOf(verdict),
    ...(verdict.since === undefined ? {} : { since: toldSince(verdict.since, unpaintedPage) }),
  };
}

function toldFinding(finding: Finding): ToldFinding {
  const notes = new Map<string, string>();
  const drawn: ToldBlock[] = [];
  const draw = (block: ToldBlock) => [`${drawnSign}${drawn.push(block) - 1}`];
  const layout: Layout = {
    width,
    paint: asRoles,
    picture: {
      lanes: (_, shown) => {
        for (const [key, says] of shown) notes.set(key, says);
        return [];
      },
      differences: (differences) =>
        draw({ is: 'differences', differences: differences.map(toldDifference) }),
      changes: (changes) => draw({ is: 'changes', differences: changes.map(toldChange) }),
    },
  };
  const { code, claim, message, culprits, stretch } = finding;
  const lines = [...aroundOf(finding, layout.paint), ...linesOf(finding, layout)];
  return {
    code,
    claim,
    message,
    blocks: lines.map((line) => {
      const at = line.indexOf(drawnSign);
      const block = at < 0 ? undefined : drawn[Number(line.slice(at + 1))];
      return block ?? { is: 'line', line: toldLine(line) };
    }),
    culprits,
    notes: notes.size > 0 ? drawnNotes(notes) : noteOf(finding),
    ...orderOf(finding),
    ...(stretch === undefined
      ? {}
      : { stretch: { after: finite(stretch.after), before: finite(stretch.before) } }),
  };
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

/** The two events whose order is the fault, if that is what a finding is about. */
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
  const changes = textChanges(difference, { width, paint: asRoles });
  if (changes !== undefined) return { path: steps, says: changes.map(toldLine) };
  const [one, other] = [
    asRoles('expected', printed(expected)),
    asRoles('received', printed(received)),
  ];
  const says = [sides(difference, one, other).join('   ')];
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

// Signs between what is painted: whatever was recorded has its control characters escaped.
const [drawnSign, roleSign, textSign, endSign] = ['\u0001', '\u0002', '\u0003', '\u0004'];

const asRoles: Paint = (role, text) => `${roleSign}${role}${textSign}${text}${endSign}`;

const painted = new RegExp(`(${roleSign}[^${endSign}]*${endSign})`);

function toldLine(line: string): ToldLine {
  return line.split(painted).flatMap((part): ToldText[] => {
    if (part === '') return [];
    if (!part.startsWith(roleSign)) return [{ text: part }];
    const [role = '', text = ''] = part.slice(1, -1).split(textSign);
    return [{ text, role: role as Role }];
  });
}
