import { type HeldClaim, innerOf, partsOf } from '../claim/kinds.ts';
import type { Alteration } from '../explain/cause.ts';
import { nearnessTo } from '../explain/nearness.ts';
import { isOfOtherKind } from '../explain/other-kind.ts';
import { noContext } from '../match/compare.ts';
import { argumentsFit } from '../match/compare-arguments.ts';
import {
  callsOf,
  type HeldEnd,
  type HeldEvent,
  type HeldPattern,
  isEnd,
  targetOf,
  tells,
} from '../pattern/event.ts';
import { eventFit, speaksOf } from '../pattern/fit.ts';
import { fittingArguments, fittingOutcome } from '../pattern/fitting.ts';
import { samePattern } from '../pattern/same-pattern.ts';
import type { Outcome } from '../record/entry.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import {
  alteredEntry,
  type Change,
  type MadeDuring,
  madeDuring,
  madeIn,
  tickBehind,
} from './change.ts';
import {
  besideIn,
  type FailedClaim,
  isOfOrder,
  placesIn,
  unwantedBy,
  wantedBy,
} from './failed-claim.ts';
import { fromOtherMembers } from './other-members.ts';
import type { Opening, Tracks } from './tracks.ts';

/** A change to a record that may be the common cause of failed claims. */
export interface Candidate {
  readonly alteration: Alteration;
  readonly change: Change;
  /** How far the changed entry is from the expected one: less is likelier. */
  readonly distance: number;
  /** Whether it is far from the expected one: then it is reported only if something else points to it. */
  readonly isFar?: boolean;
  /** Whether it puts in a call of a member of which claims tell each call apart, and ask for no other one. */
  readonly isUnasked?: boolean;
  /** The changed entry; `undefined` if one is inserted. */
  readonly entry: HeldEntry | undefined;
  /** The expected event in its place, or the missing one. */
  readonly event: HeldEvent | undefined;
  /** The place in the list of gaps at which something is put in. */
  readonly gap: number | undefined;
}

/** How many entries are tried for one pattern, in each way. */
const triedForEach = 20;

/** From so many times the distance of the nearest entry on, no other is tried, if nobody wants the nearest. */
const muchFarther = 2;

/** How many entries are tried that one claim has too much of. */
const unwantedTried = 40;

/** How many entries are moved, and to how many places something is moved or put in. */
const movedTried = 12;
const gapsTried = 60;

/** The input from which candidates are made. */
export interface Search {
  readonly journal: Journal;
  readonly tracks: Tracks;
  readonly failed: readonly FailedClaim[];
  /** Where something may be put in: between the events that the failed claims hear. */
  readonly gaps: readonly Opening[];
  /** A number for inserted entries, so several never collide. */
  readonly round: number;
  /** The gaps beside entries that some failed claims hear, by the places of their findings. */
  readonly beside: Map<string, readonly number[]>;
  /** The patterns of all claims. */
  readonly patterns: readonly HeldEvent[];
  /** Whether a claim wants an entry as it is. */
  isClaimed(entry: HeldEntry): boolean;
  /** Entries near to expected events, in the order in which they were found. */
  readonly near: Map<HeldEvent, readonly Near[]>;
}

/** An entry that does not fit a pattern, and how far it is from it. */
interface Near {
  readonly entry: HeldEntry;
  readonly distance: number;
  readonly isFar: boolean;
}

/** Changes to calls of a record, and drops: the likeliest kinds first. */
export function* changesOfCalls(search: Search): Generator<Candidate> {
  const made = madeDuring(search.journal);
  const unwanted = unwantedIn(search, search.failed);
  for (const entry of unwanted) yield* drops(entry, made);
  const single = singleWants(search);
  const missed = single.map((event): Missed => ({ event, more: thatSayMore(event, single) }));
  for (const each of missed) yield* mended(search, each);
  const surplus = new Set(unwanted);
  for (const each of missed) yield* fromOtherMembers(search, each, surplus);
}

/** A missing event, and those that say as much about the same call or more: one that does not fit them is not the missing one. */
export interface Missed {
  readonly event: HeldEvent;
  readonly more: readonly HeldEvent[];
}

/** Insertions and moves of calls. */
export function* changesOfPlaces(search: Search): Generator<Candidate> {
  const single = singleWants(search);
  for (const event of mostTellingFirst(single)) yield* insertions(search, event, single);
  const ofOrder = search.failed.filter(isOfOrder);
  if (ofOrder.length > 0) yield* moves(search, unwantedIn(search, ofOrder));
}

/** The entries that failed claims have too much of, or at the wrong place: the first ones. */
function unwantedIn({ journal }: Search, failed: readonly FailedClaim[]): readonly HeldEntry[] {
  const ids = new Set(failed.flatMap((each) => unwantedBy(each).slice(0, unwantedTried)));
  return journal.entries.filter(({ id }) => ids.has(id));
}

/** Events that claims miss exactly once: one more call mends no claim that misses several. */
function singleWants({ failed }: Search): readonly HeldEvent[] {
  const wants = failed.flatMap(wantedBy);
  return distinct(wants.flatMap(({ event, missing }) => (missing === 1 ? [event] : [])));
}

/** How many missing events are held against each other, since they may be parts of one call. */
const comparedMost = 40;

/** Events in an order in which none comes before one that says more about the same call. */
function mostTellingFirst(events: readonly HeldEvent[]): readonly HeldEvent[] {
  return events
    .map((event) => ({ event, rank: thatSayMore(event, events).length }))
    .sort((one, other) => one.rank - other.rank)
    .map(({ event }) => event);
}

/** Those of some events that say as much about the same call as one does, or more. */
function thatSayMore(event: HeldEvent, events: readonly HeldEvent[]): readonly HeldEvent[] {
  if (events.length > comparedMost) return [];
  const calls = callsOf(event);
  return events.filter((other) => {
    if (targetOf(other) !== targetOf(event)) return false;
    const args = argumentsFor(callsOf(other));
    return args !== undefined && isMatch(calls, args);
  });
}

const argumentsKnown = new WeakMap<
  HeldPattern,
  { readonly args: readonly unknown[] | undefined }
>();

/** Arguments that match a pattern, made once for each. */
function argumentsFor(calls: HeldPattern): readonly unknown[] | undefined {
  const known = argumentsKnown.get(calls) ?? { args: fittingArguments(calls, []) };
  argumentsKnown.set(calls, known);
  return known.args;
}

function distinct(events: readonly HeldEvent[]): readonly HeldEvent[] {
  const found: HeldEvent[] = [];
  for (const event of events)
    if (!found.some((other) => samePattern(other, event))) found.push(event);
  return found;
}

function* drops(entry: HeldEntry, made: MadeDuring): Generator<Candidate> {
  const about = {
    alteration: 'drop' as const,
    distance: 0,
    entry,
    event: undefined,
    gap: undefined,
  };
  yield { ...about, change: { without: [entry], added: [] } };
  const inner = madeIn(made, entry);
  if (inner.length > 0) yield { ...about, change: { without: [entry, ...inner], added: [] } };
}

/** Entries of the member that would fit if their arguments, or their end, were as claimed. */
function* mended(search: Search, { event, more }: Missed): Generator<Candidate> {
  const { near } = search;
  const calls = callsOf(event);
  const found = near.get(event) ?? nearestTo(event, search);
  near.set(event, found);
  // Beside a call that nobody wants and that is much nearer, no other is the one that went wrong.
  const nearest = found.find(({ entry }) => !search.isClaimed(entry))?.distance ?? Infinity;
  // Where calls are too few, whatever their arguments, one that came is not the one that is missing.
  const short = search.failed.flatMap(wantedBy).filter((want) => !tells(want.event));
  for (const { entry, distance, isFar } of found) {
    if (distance >= muchFarther * nearest) continue;
    if (short.some((want) => want.event !== event && eventFit(want.event, entry) === 'fits'))
      continue;
    const args = fittingArguments(calls, entry.args);
    if (args === undefined) continue;
    const isSame =
      args.every((arg, at) => arg === entry.args[at]) && args.length === entry.args.length;
    const outcome =
      isEnd(event) && eventFit(event, entry) === 'differs'
        ? fittingOutcome(event, entry.outcome)
        : undefined;
    const alteration = isSame ? 'outcome' : 'argument';
    if (alteration === 'outcome' && (outcome === undefined || entry.ended === undefined)) continue;
    const mend = alteredEntry(entry, {
      args,
      ...(outcome === undefined || entry.ended === undefined ? {} : { outcome }),
    });
    if (![event, ...more].every((each) => eventFit(each, mend) === 'fits')) continue;
    yield {
      alteration,
      change: { without: [entry], added: [mend] },
      distance,
      isFar,
      entry,
      event,
      gap: undefined,
    };
  }
}

function nearestTo(event: HeldEvent, { journal, patterns, failed }: Search): readonly Near[] {
  const { entries } = journal;
  const nearness = nearnessTo(event, entries);
  const instead = new Set(
    failed
      .flatMap(placesIn)
      .flatMap((each) => (samePattern(each.event, event) ? each.instead : [])),
  );
  return entries
    .filter((entry) => speaksOf(callsOf(event), entry) && eventFit(event, entry) === 'differs')
    .map((entry) => ({ entry, distance: nearness.roughly(entry) }))
    .sort((one, other) => one.distance - other.distance || one.entry.id - other.entry.id)
    .slice(0, triedForEach)
    .filter(({ entry }) => !isOfOtherKind(event, entry, patterns))
    .flatMap(({ entry, distance }) => {
      if (instead.has(entry.id)) return [{ entry, distance, isFar: false }];
      const { agrees, agreesInSaid, isAlike } = nearness.of(entry);
      return isAlike ? [{ entry, distance, isFar: !agrees || !agreesInSaid }] : [];
    });
}

/** A missing event, at every gap that may matter. */
function* insertions(
  search: Search,
  event: HeldEvent,
  beside: readonly HeldEvent[],
): Generator<Candidate> {
  const args = missingArguments(event, beside);
  if (args === undefined) return;
  const told = search.failed
    .flatMap(placesIn)
    .map((place) => ({ ...place, calls: callsOf(place.event) }))
    .filter(({ calls }) => targetOf(calls) === targetOf(event) && isMatch(calls, args));
  const isIn = ({ after, before }: Opening) =>
    told.some(
      (place) => (after?.id ?? 0) >= place.after && (before?.id ?? place.before) <= place.before,
    );
  const isUnasked = areToldApart(search, event);
  const probe = missingEntry(search, event, args, search.journal.tick);
  for (const { behind, gap } of placesFor(search, probe, isIn)) {
    const opening = gap === undefined ? undefined : search.gaps[gap];
    const isTold = opening !== undefined && isIn(opening);
    const tick = tickBehind(behind, 8 * search.round + 1);
    const entry = missingEntry(search, event, args, tick);
    yield {
      alteration: 'insert',
      change: { without: [], added: [entry] },
      distance: isTold ? 0 : 1,
      isUnasked,
      entry: undefined,
      event,
      gap,
    };
  }
}

/** Whether a pattern says nothing of arguments, though other claims say of every call of its member which one it is. */
function areToldApart({ journal, patterns, isClaimed }: Search, event: HeldEvent): boolean {
  const target = targetOf(event);
  if (tells(event) || !patterns.some((each) => tells(each) && targetOf(each) === target))
    return false;
  return journal.entries.every((entry) => entry.target !== target || isClaimed(entry));
}

/**
 * The places at which an entry is tried: beside the events of the claims to which it matters when it came, those that
 * are preferred first; if it matters to none, at the end.
 */
function placesFor(
  search: Search,
  entry: HeldEntry,
  isPreferred: (gap: Opening) => boolean,
): readonly Place[] {
  const { gaps, tracks, failed } = search;
  const concerned = [...tracks.concernedBy({ without: [], added: [entry] })].filter(isTimed);
  if (concerned.length === 0) return [{ behind: search.journal.tick, gap: undefined }];
  const timed = failed.filter(({ claim }) => concerned.includes(claim));
  const beside = gapsBeside(search, timed);
  const preferred = beside.filter((gap) => isPreferred(gaps[gap] as Opening));
  return placesAt(gaps, [...new Set([...preferred, ...beside])].slice(0, gapsTried));
}

/** The gaps beside the events that some failed claims hear; all of them if there are no such claims. */
function gapsBeside(
  { gaps, tracks, beside }: Search,
  timed: readonly FailedClaim[],
): readonly number[] {
  const key = timed.map(({ at }) => at).join(' ');
  const known = beside.get(key);
  if (known !== undefined) return known;
  const openings = tracks.gapsFor(timed.map(({ claim }) => claim));
  const heard = new Set(openings.flatMap(({ after, before }) => [after, before] as const));
  const found: number[] = [];
  gaps.forEach(({ after, before }, gap) => {
    if (timed.length === 0 || heard.has(after) || heard.has(before)) found.push(gap);
  });
  beside.set(key, found);
  return found;
}

/** Whether it matters to a claim when entries came, and not only how many. */
export function isTimed(claim: HeldClaim): boolean {
  const { side, asksCover } = partsOf(claim);
  return side === undefined && asksCover === undefined;
}

/** A tick behind which something may be put in, and the gap it is in; `undefined` if any would do. */
interface Place {
  readonly behind: number;
  readonly gap: number | undefined;
}

function placesAt(gaps: readonly Opening[], chosen: readonly number[]): readonly Place[] {
  return chosen.flatMap((gap) => (gaps[gap]?.ticks ?? []).map((behind) => ({ behind, gap })));
}

/**
 * An entry for a pattern with some arguments, at a tick. It has an end that other claims want of such calls, or one that
 * others of the member have.
 *
 * @param place among several that are put in
 */
export function missingEntry(
  { journal, failed, round }: Search,
  event: HeldEvent,
  args: readonly unknown[],
  tick: number,
  place = 0,
): HeldEntry {
  const calls = callsOf(event);
  const { target } = calls.member;
  const alike = journal.entries.findLast(
    (entry) => entry.target === target && entry.ended !== undefined,
  );
  const usual: Outcome = alike?.outcome ?? { state: 'returned', value: undefined };
  const isOpen = isEnd(event) && event.of === 'unfinished';
  const made: HeldEntry = {
    id: journal.entries.length + 1 + round + place,
    target,
    kind: calls.of,
    args,
    receiver: undefined,
    began: tick,
    ended: isOpen ? undefined : tickBehind(tick, 1 / 16),
    beganAt: alike?.beganAt ?? 0,
    outcome: isOpen ? { state: 'pending' } : usual,
    parent: undefined,
    given: undefined,
    more: undefined,
  };
  if (isOpen) return made;
  for (const end of [...(isEnd(event) ? [event] : []), ...endsHeardBy(failed)]) {
    if (end.of === 'unfinished' || eventFit(end.calls, made) !== 'fits') continue;
    if (eventFit(end, made) === 'fits') continue;
    // An end that a claim wants says more than the usual one if it has a value, or if no call of the member has ended.
    const saysMore = end.claimed.length > 0 || (alike === undefined && end.states.length === 1);
    if (end !== event && !saysMore) continue;
    const outcome = fittingOutcome(end, usual);
    if (outcome !== undefined) return { ...made, outcome };
  }
  return made;
}

const endsKnown = new WeakMap<readonly FailedClaim[], readonly HeldEnd[]>();

/** The patterns of ends that some claims hear, found once. */
function endsHeardBy(failed: readonly FailedClaim[]): readonly HeldEnd[] {
  const known =
    endsKnown.get(failed) ??
    failed.flatMap(({ claim }) =>
      partsOf(claim)
        .hears(claim)
        .events.flatMap((event) => (event !== undefined && isEnd(event) ? [event] : [])),
    );
  endsKnown.set(failed, known);
  return known;
}

/**
 * Arguments of a missing event, which match other wanted patterns too if they can.
 *
 * @returns `undefined` if there is a matcher without a known matching value
 */
export function missingArguments(
  event: HeldEvent,
  beside: readonly HeldEvent[],
): readonly unknown[] | undefined {
  const calls = callsOf(event);
  let args = argumentsFor(calls);
  for (const other of beside.slice(0, comparedMost).map(callsOf)) {
    if (args === undefined || other.of !== calls.of || targetOf(other) !== targetOf(calls))
      continue;
    const more = fittingArguments(other, args);
    if (more !== undefined && isMatch(calls, more)) args = more;
  }
  return args;
}

function isMatch({ claimed }: HeldPattern, args: readonly unknown[]): boolean {
  if (claimed === undefined) return true;
  return argumentsFit(claimed, args, () => noContext, undefined, undefined, args) === 'fits';
}

/** Entries that came at the wrong place, at every gap that may matter. */
function* moves(search: Search, unwanted: readonly HeldEntry[]): Generator<Candidate> {
  const wanted = distinct(search.failed.flatMap(wantedBy).map(({ event }) => event));
  const movable = wanted.filter((event) => tells(event) || areToldApart(search, event));
  const stretched = search.failed
    .filter(({ claim }) => innerOf(claim) !== undefined)
    .flatMap(({ claim }) =>
      partsOf(claim)
        .hears(claim)
        .events.flatMap((event) => event ?? []),
    );
  const beside = new Set(search.failed.flatMap(besideIn));
  const misplaced = search.journal.entries.filter(
    (entry) =>
      beside.has(entry.id) ||
      movable.some((event) => eventFit(event, entry) === 'fits') ||
      stretched.some((event) => eventFit(event, entry) === 'fits'),
  );
  for (const entry of [...new Set([...unwanted, ...misplaced])].slice(0, movedTried)) {
    const isNear = ({ after, before }: Opening) =>
      Math.abs((after ?? before ?? entry).id - entry.id) <= nearby;
    for (const { behind, gap } of placesFor(search, entry, isNear)) {
      const opening = gap === undefined ? undefined : search.gaps[gap];
      if (opening?.after === entry || opening?.before === entry) continue;
      yield {
        alteration: 'move',
        change: { without: [entry], added: [movedTo(entry, behind, search.round)] },
        distance: Math.abs(behind - entry.began),
        entry,
        event: undefined,
        gap,
      };
    }
  }
}

/** Places so many entries away are tried first. */
const nearby = 20;

/** An entry that began behind a tick; it ended when it did, if that is later and it took time. */
function movedTo(entry: HeldEntry, behind: number, round: number): HeldEntry {
  const began = tickBehind(behind, 8 * round + 3);
  const { ended } = entry;
  if (ended === undefined) return alteredEntry(entry, { began });
  const tookTime = ended > entry.began + 1;
  return alteredEntry(entry, {
    began,
    ended: tookTime && ended > began ? ended : tickBehind(began, 1 / 16),
  });
}
