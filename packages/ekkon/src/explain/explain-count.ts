import { fittingEntries, type HeldCountClaim } from '../claim/count.ts';
import { entryDifferences, type HeldPattern, type JudgedEntry } from '../claim/pattern.ts';
import { argumentsFit, type ClaimedArguments } from '../match/compare-arguments.ts';
import { distanceOf } from '../match/difference.ts';
import { isLeaf } from '../record/copy.ts';
import { printsAs } from '../record/prints-as.ts';
import { entryData } from '../record/record.ts';
import type { Diagnosis, NearEntry, Tally } from './finding.ts';

/** How many of the nearest entries a diagnosis holds; those clearly further off than the first are left out. */
const nearestKept = 3;

/** Why a count claim does not hold. To be asked only where it does not. */
export function explainCount(claim: HeldCountClaim, entries: readonly JudgedEntry[]): Diagnosis {
  const { held: pattern, range } = claim;
  const fitting = fittingEntries(pattern, entries);
  const tooMany = fitting.length > range.most;
  const others = tooMany ? [] : nearestFirst(pattern, entries, new Set(fitting));
  const farthest = (others[0]?.distance ?? 0) * 1.5;
  const nearest = others.filter(({ distance }) => distance <= farthest).slice(0, nearestKept);
  const elsewhere = tooMany ? [] : sameArguments(pattern, entries);
  const calls = entries.filter((entry) => entry.label === pattern.member.label).length;
  const culprits = tooMany ? fitting.slice(range.most) : likeliest(nearest, elsewhere);
  return {
    code: tooMany ? 'surplusCall' : 'missingCall',
    claim: claim.notation,
    culprits: culprits.map((entry) => entry.id),
    claimed: pattern[printsAs],
    claimedArguments: pattern.claimed?.items,
    member: pattern.member.label,
    double: pattern.member.double,
    range,
    fitting: fitting.map(entryData),
    calls,
    nearest,
    differences: nearest[0]?.differences ?? [],
    elsewhere: elsewhere.map(entryData),
    instead: calls === 0 ? calledInstead(pattern, entries) : [],
    at: culprits[0] === undefined ? undefined : entryData(culprits[0]).site,
  };
}

/** The calls of the member that do not fit; among equally near ones, the latest first. */
function nearestFirst(
  pattern: HeldPattern,
  entries: readonly JudgedEntry[],
  fitting: ReadonlySet<JudgedEntry>,
): readonly NearEntry[] {
  return entries
    .filter((entry) => entry.label === pattern.member.label && !fitting.has(entry))
    .map((entry) => {
      const differences = entryDifferences(pattern, entry);
      return { entry: entryData(entry), differences, distance: distanceOf(differences) };
    })
    .sort((one, other) => one.distance - other.distance || other.entry.id - one.entry.id);
}

/** Calls of other members with just the claimed arguments, where those are telling. */
function sameArguments(
  pattern: HeldPattern,
  entries: readonly JudgedEntry[],
): readonly JudgedEntry[] {
  const { claimed, member } = pattern;
  if (claimed === undefined || !isTelling(claimed)) return [];
  const sibling = `${member.double}.`;
  return entries
    .filter((entry) => entry.label !== member.label && argumentsFit(claimed, entry.args))
    .sort(
      (one, other) =>
        Number(other.label.startsWith(sibling)) - Number(one.label.startsWith(sibling)) ||
        one.id - other.id,
    )
    .slice(0, nearestKept);
}

/** Whether arguments say enough for equal ones to be no accident: matchers alone do not. */
function isTelling({ items }: ClaimedArguments): boolean {
  return items.some(
    (item) => !isLeaf(item) || typeof item === 'string' || typeof item === 'number',
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
  const sibling = `${pattern.member.double}.`;
  return [...calls]
    .map(([label, count]) => ({ label, calls: count }))
    .sort(
      (one, other) =>
        Number(other.label.startsWith(sibling)) - Number(one.label.startsWith(sibling)),
    );
}
