import { aboutClaim } from '../explain/diagnosis.ts';
import type { CountDiagnosis, NearEntry, Tally } from '../explain/finding.ts';
import { nearestFirst, nearestKept } from '../explain/nearest.ts';
import { everything, within } from '../explain/window.ts';
import type { ClaimedArguments } from '../match/compare-arguments.ts';
import { matchingOf } from '../match/matcher.ts';
import { sameValues } from '../match/same-value.ts';
import { callsOf, type HeldPattern, isEnd, isOfStream } from '../pattern/event.ts';
import { argumentsFitOf, eventFit, eventTick, speaksOf } from '../pattern/fit.ts';
import { inRange } from '../pattern/multiplicity.ts';
import { type EntryKind, isStreamed } from '../record/entry.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Target } from '../record/target.ts';
import { isItsOwnCopy } from '../value/copy.ts';
import { grouped } from '../value/grouped.ts';
import { printsAs } from '../value/prints-as.ts';
import type { HeldCount } from './count.ts';
import type { Totals, View } from './parts.ts';

/** How many entries are told that do not match and are not near. */
const othersTold = 6;

/** How many entries with the same arguments are told. */
const sameTold = 3;

/** Why a count claim does not hold; nothing if the entries that certainly fit are as many as claimed. */
export function explainCount(
  claim: HeldCount,
  { evidence, window, toBlame, isWanted, isMeant }: View,
): CountDiagnosis | undefined {
  const { held, range } = claim;
  const recorded = evidence.journal.entries;
  const isInside = (entry: HeldEntry) =>
    within(window, eventTick(held, entry)) && isUnfinishedWithin(claim, entry, window.before);
  const fitting = recorded.filter(
    (entry) => eventFitIn(claim, entry, window.before) && isInside(entry),
  );
  if (inRange(range, fitting.length)) return undefined;
  const entries =
    window === everything ? recorded : recorded.filter(({ began }) => within(window, began));
  const totals = window === everything ? evidence.totals : undefined;
  return explainWrongCount(claim, entries, fitting, {
    totals,
    isSample: evidence.totals !== undefined && totals === undefined,
    toBlame,
    isWanted,
    isMeant,
    all: recorded,
  });
}

/** Whether an entry's event certainly fits, as the entry stood at the end of a stretch. */
function eventFitIn({ held }: HeldCount, entry: HeldEntry, before: number): boolean {
  if (isEnd(held) && held.of === 'unfinished' && (entry.ended ?? 0) >= before)
    return eventFit(held.calls, entry) === 'fits';
  return eventFit(held, entry) === 'fits';
}

function isUnfinishedWithin({ held }: HeldCount, { ended }: HeldEntry, before: number): boolean {
  return !isEnd(held) || held.of !== 'unfinished' || ended === undefined || ended >= before;
}

/** More about the record than the entries at hand. */
export interface ExplainOptions {
  readonly totals?: Totals | undefined;
  /** Whether only some of the member's other calls are at hand. */
  readonly isSample?: boolean;
  /** Those of the entries that do not fit that may be to blame. Default: all. */
  readonly toBlame?: View['toBlame'];
  /** Whether another claim wants an entry, or wants it by its arguments. Default: none does. */
  readonly isWanted?: View['isWanted'];
  readonly isMeant?: View['isMeant'];
  /** All entries of the record, if only those of a stretch are at hand. */
  readonly all?: readonly HeldEntry[];
}

const anyone: View['toBlame'] = (entries) => entries;
const none = () => false;

/** Why entries that fit are too few or too many. */
export function explainWrongCount(
  claim: HeldCount,
  entries: readonly HeldEntry[],
  fitting: readonly HeldEntry[],
  options: ExplainOptions = {},
): CountDiagnosis {
  const { totals, toBlame = anyone, isWanted = none, isMeant = none, all = entries } = options;
  const { held: event, range } = claim;
  const pattern = callsOf(event);
  const { target } = pattern.member;
  const missing = fitting.length <= range.most;
  const fittingCount = Math.max(fitting.length, totals?.fitting ?? 0);
  const counts = totals?.entries ?? entriesByTarget(entries);
  const isOfDouble = ({ double }: Target) => double === target.double;
  const isTouched = () =>
    totals === undefined
      ? all.some((entry) => isOfDouble(entry.target))
      : [...totals.entries.keys()].some(isOfDouble);
  const unlike = missing ? notFitting(pattern, entries, fitting) : [];
  const nearest = nearestFirst(event, toBlame(unlike, event), entries, fittingCount > 0);
  const elsewhere = missing ? sameArguments(pattern, entries, isWanted) : [];
  const isSample = options.isSample === true;
  const calls = isSample ? undefined : callsAmong(pattern, counts);
  // Fewer near calls than are missing do not explain it, unless none is as expected.
  const lacking = Math.min(range.least - fittingCount, nearestKept);
  const isExplained = fittingCount === 0 || nearest.length >= lacking;
  const culprits = missing
    ? likeliest(isExplained ? nearest : [], elsewhere)
    : surplusAmong(fitting, range.most, entries, isMeant);
  const ended = isOfStream(pattern)
    ? entries.find(
        (entry) => entry.target === target && (entry.kind === 'end' || entry.kind === 'failure'),
      )
    : undefined;
  return {
    code: missing ? 'missingCall' : 'surplusCall',
    kind: pattern.of,
    streamEnded: ended === undefined ? undefined : entryData(ended),
    ...aboutClaim(claim),
    culprits: culprits.map(({ id }) => id),
    ofEnd: isEnd(event),
    claimed: event[printsAs],
    claimedArguments: pattern.claimed?.items,
    member: target.label,
    double: target.double,
    range,
    isPlan: false,
    plannedAt: undefined,
    fitting: fitting.map(entryData),
    fittingCount,
    calls,
    nearest,
    others: nearest.length > 0 ? [] : unlike.slice(0, othersTold).map(entryData),
    differences: nearest[0]?.differences ?? [],
    elsewhere: elsewhere.map(entryData),
    instead: calls === 0 ? calledInstead(pattern, counts) : [],
    isFirst: all.length === 0,
    isUntouched: calls === 0 && !isTouched(),
    at: culprits[0] === undefined ? undefined : siteOf(culprits[0]),
  };
}

/**
 * The likeliest unexpected ones among too many entries: all calls of one place in the code if they are as many as are too
 * many; otherwise a repetition of the member's previous call, then an entry that no other claim expects, then the last ones.
 */
function surplusAmong(
  fitting: readonly HeldEntry[],
  most: number,
  entries: readonly HeldEntry[],
  isMeant: View['isMeant'],
): readonly HeldEntry[] {
  if (most === 0) return fitting;
  const ofOnePlace = fromOnePlace(fitting, fitting.length - most);
  if (ofOnePlace !== undefined) return ofOnePlace;
  const repeated = repeatsIn(fitting, entries);
  const rankOf = (entry: HeldEntry) => 2 * (repeated.get(entry) ?? 0) + (isMeant(entry) ? 0 : 1);
  return fitting
    .map((entry) => ({ entry, rank: rankOf(entry) }))
    .sort((one, other) => other.rank - one.rank || other.entry.id - one.entry.id)
    .slice(0, fitting.length - most)
    .map(({ entry }) => entry)
    .sort((one, other) => one.id - other.id);
}

/** Of more entries than these the places in the code are not read. */
const placesRead = 100;

/** Those of some entries that come from one place in the code, if only one place has so many, and more than one. */
function fromOnePlace(
  entries: readonly HeldEntry[],
  count: number,
): readonly HeldEntry[] | undefined {
  if (count < 2 || entries.length > placesRead) return undefined;
  const groups = grouped(entries, (entry) => {
    const { site } = entryData(entry);
    return site && `${site.file}:${site.line}:${site.column}`;
  });
  const found = [...groups].filter(([site, each]) => site !== undefined && each.length === count);
  return found.length === 1 ? found[0]?.[1] : undefined;
}

/** With more entries than this, repetitions are not looked for. */
const repeatsSought = 500;

/**
 * Those of some entries whose arguments are equal to those of another before: 2 if that is the entry of the same
 * member just before, else 1.
 */
function repeatsIn(
  fitting: readonly HeldEntry[],
  entries: readonly HeldEntry[],
): ReadonlyMap<HeldEntry, number> {
  const found = new Map<HeldEntry, number>();
  if (fitting.length > repeatsSought) return found;
  const asked = new Set(fitting);
  const target = fitting[0]?.target;
  const seen: HeldEntry[] = [];
  let previous: HeldEntry | undefined;
  for (const entry of entries) {
    if (entry.target !== target) continue;
    if (asked.has(entry)) {
      if (previous !== undefined && sameValues(previous.args, entry.args)) found.set(entry, 2);
      else if (seen.some(({ args }) => sameValues(args, entry.args))) found.set(entry, 1);
      seen.push(entry);
    }
    previous = entry;
  }
  return found;
}

function siteOf(culprit: HeldEntry | ReturnType<typeof entryData>) {
  return 'site' in culprit ? culprit.site : entryData(culprit).site;
}

function notFitting(
  pattern: HeldPattern,
  entries: readonly HeldEntry[],
  fitting: readonly HeldEntry[],
): readonly HeldEntry[] {
  const fits = new Set(fitting);
  return entries.filter((entry) => speaksOf(pattern, entry) && !fits.has(entry));
}

/** Calls of other members with just the claimed arguments, if those are telling. */
export function sameArguments(
  pattern: HeldPattern,
  entries: readonly HeldEntry[],
  isWanted: View['isWanted'] = none,
): readonly HeldEntry[] {
  const isElsewhere = elsewhereIn(pattern);
  if (isElsewhere === undefined) return [];
  const siblingsFirst = bySibling(pattern.member.target.double);
  return entries
    .filter((entry) => isElsewhere(entry) && !isWanted(entry))
    .sort((one, other) => siblingsFirst(one.target, other.target) || one.id - other.id)
    .slice(0, sameTold);
}

/** Whether an entry of another member has the arguments of a pattern; `undefined` if they tell too little. */
export function elsewhereIn(pattern: HeldPattern): ((entry: HeldEntry) => boolean) | undefined {
  const { claimed, member } = pattern;
  if (claimed === undefined || !isTelling(claimed) || isOfStream(pattern)) return undefined;
  return (entry) => entry.target !== member.target && argumentsFitOf(pattern, entry) === 'fits';
}

/** How many entries each target has, by their kind. */
function entriesByTarget(entries: readonly HeldEntry[]): Totals['entries'] {
  const counts = new Map<HeldEntry['target'], Map<EntryKind, number>>();
  for (const entry of entries) countEntry(counts, entry);
  return counts;
}

/** Counts one more entry of its target and kind. */
export function countEntry(
  counts: Map<HeldEntry['target'], Map<EntryKind, number>>,
  { target, kind }: HeldEntry,
): void {
  const ofTarget = counts.get(target) ?? new Map<EntryKind, number>();
  counts.set(target, ofTarget.set(kind, (ofTarget.get(kind) ?? 0) + 1));
}

/** How many entries have the member and the kind of a pattern. */
function callsAmong({ of, member }: HeldPattern, all: Totals['entries']): number {
  const counts = all.get(member.target);
  return (counts?.get(of) ?? 0) + (of === 'call' ? (counts?.get('construct') ?? 0) : 0);
}

/** Whether arguments say enough for equal ones to be no accident: matchers alone do not. */
function isTelling({ items }: ClaimedArguments): boolean {
  return items.some((item) =>
    isItsOwnCopy(item)
      ? typeof item === 'string' || typeof item === 'number'
      : matchingOf(item) === undefined,
  );
}

/** A call of the member itself comes first, then one with the same arguments at another. */
function likeliest(
  nearest: readonly NearEntry[],
  elsewhere: readonly HeldEntry[],
): readonly (HeldEntry | NearEntry['entry'])[] {
  return [...nearest.map(({ entry }) => entry), ...elsewhere.slice(0, 1)];
}

/** How often other members were called: those of the same double first, if there are any. */
function calledInstead(pattern: HeldPattern, all: Totals['entries']): readonly Tally[] {
  const calls = [...all].map(([target, counts]): [HeldEntry['target'], number] => {
    const called = [...counts].filter(([kind]) => !isStreamed(kind));
    return [target, called.reduce((sum, [, count]) => sum + count, 0)];
  });
  return calls
    .filter(([, count]) => count > 0)
    .sort(([one], [other]) => bySibling(pattern.member.target.double)(one, other))
    .map(([{ label, double }, count]) => ({ label, double, calls: count }));
}

/** An order that puts the members of a double before those of others. */
function bySibling(double: string): (one: OfDouble, other: OfDouble) => number {
  const rank = (of: OfDouble) => Number(of.double === double);
  return (one, other) => rank(other) - rank(one);
}

interface OfDouble {
  readonly double: string;
}
