import type { HeldCountClaim } from '../claim/count.ts';
import { callsOf } from '../claim/event.ts';
import { type HeldPattern, type JudgedEntry, speaksOf } from '../claim/pattern.ts';
import { argumentsFit, type ClaimedArguments } from '../match/compare-arguments.ts';
import { matchingOf } from '../match/matcher.ts';
import { isLeaf } from '../record/copy.ts';
import { isMemberOf } from '../record/member.ts';
import { printsAs } from '../record/prints-as.ts';
import { entryData } from '../record/recording.ts';
import type { CountDiagnosis, NearEntry, Tally } from './finding.ts';
import { nearestFirst } from './nearest.ts';

/** How many entries with the same arguments are told. */
const sameTold = 3;

/** Why a count claim does not hold. To be asked only where it does not. */
export function explainCount(
  claim: HeldCountClaim,
  entries: readonly JudgedEntry[],
  {
    fitting,
    undecided,
  }: { readonly fitting: readonly JudgedEntry[]; readonly undecided: readonly JudgedEntry[] },
): CountDiagnosis {
  const { held: event, range } = claim;
  const pattern = callsOf(event);
  const code = codeOf(claim, fitting.length, undecided.length);
  const missing = code === 'missingCall';
  const others = missing ? notFitting(pattern, entries, fitting) : undecided;
  const nearest = nearestFirst(event, others);
  const elsewhere = missing ? sameArguments(pattern, entries) : [];
  const calls = entries.filter((entry) => speaksOf(pattern, entry)).length;
  const culprits =
    code === 'surplusCall' ? fitting.slice(range.most) : likeliest(nearest, elsewhere);
  return {
    code,
    claim: claim.notation,
    culprits: culprits.map((entry) => entry.id),
    claimed: event[printsAs],
    claimedArguments: pattern.claimed?.items,
    member: pattern.member.label,
    double: pattern.member.double,
    range,
    plannedAt: undefined,
    fitting: fitting.map(entryData),
    calls,
    nearest,
    differences: nearest[0]?.differences ?? [],
    elsewhere: elsewhere.map(entryData),
    instead: calls === 0 ? calledInstead(pattern, entries) : [],
    at: culprits[0] === undefined ? undefined : entryData(culprits[0]).site,
  };
}

function codeOf(
  { range }: HeldCountClaim,
  fitting: number,
  undecided: number,
): CountDiagnosis['code'] {
  if (fitting > range.most) return 'surplusCall';
  return fitting + undecided < range.least ? 'missingCall' : 'undecidedCall';
}

function notFitting(
  pattern: HeldPattern,
  entries: readonly JudgedEntry[],
  fitting: readonly JudgedEntry[],
): readonly JudgedEntry[] {
  const fits = new Set(fitting);
  return entries.filter((entry) => speaksOf(pattern, entry) && !fits.has(entry));
}

/** Calls of other members with just the claimed arguments, where those are telling. */
function sameArguments(
  pattern: HeldPattern,
  entries: readonly JudgedEntry[],
): readonly JudgedEntry[] {
  const { claimed, member } = pattern;
  if (claimed === undefined || !isTelling(claimed)) return [];
  const siblingsFirst = bySibling(member.double);
  return entries
    .filter((entry) => entry.label !== member.label && argumentsFit(claimed, entry.args) === 'fits')
    .sort((one, other) => siblingsFirst(one, other) || one.id - other.id)
    .slice(0, sameTold);
}

/** Whether arguments say enough for equal ones to be no accident: matchers alone do not. */
function isTelling({ items }: ClaimedArguments): boolean {
  return items.some((item) =>
    isLeaf(item)
      ? typeof item === 'string' || typeof item === 'number'
      : matchingOf(item) === undefined,
  );
}

/** An exact call of another member tells more than a call of this one that is clearly another. */
function likeliest(
  nearest: readonly NearEntry[],
  elsewhere: readonly JudgedEntry[],
): readonly JudgedEntry[] {
  return [...elsewhere.slice(0, 1), ...nearest.map(({ entry }) => entry)];
}

/** How often other members were called: those of the same double if there are any. */
function calledInstead(pattern: HeldPattern, entries: readonly JudgedEntry[]): readonly Tally[] {
  const calls = new Map<string, number>();
  for (const { label } of entries) calls.set(label, (calls.get(label) ?? 0) + 1);
  const siblingsFirst = bySibling(pattern.member.double);
  return [...calls].map(([label, count]) => ({ label, calls: count })).sort(siblingsFirst);
}

/** An order that puts the members of a double before those of others. */
function bySibling(double: string): (one: Labelled, other: Labelled) => number {
  const rank = ({ label }: Labelled) => Number(isMemberOf(label, double));
  return (one, other) => rank(other) - rank(one);
}

interface Labelled {
  readonly label: string;
}
