import { innerOf, partsOf } from '../claim/kinds.ts';
import type { Alteration } from '../explain/cause.ts';
import { nearnessTo } from '../explain/nearness.ts';
import { compareArguments } from '../match/compare-arguments.ts';
import { callsOf, type HeldEvent, isEnd, tells } from '../pattern/event.ts';
import { contextOf, eventFit, seenBy, speaksOf } from '../pattern/fit.ts';
import { fittingArguments, fittingOutcome } from '../pattern/fitting.ts';
import { sameCalls, samePattern } from '../pattern/same-pattern.ts';
import type { Outcome } from '../record/entry.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { alteredEntry, type Change, madeDuring, madeIn, tickBehind } from './change.ts';
import {
  besideIn,
  type FailedClaim,
  isOfOrder,
  placesIn,
  unwantedBy,
  wantedBy,
} from './failed-claim.ts';
import type { Opening, Tracks } from './tracks.ts';

/** A change to a record that may be what failed claims have in common. */
export interface Candidate {
  readonly alteration: Alteration;
  readonly change: Change;
  /** How far what is altered is from what is claimed: less is likelier. */
  readonly distance: number;
  /** What is altered; `undefined` if something is inserted. */
  readonly entry: HeldEntry | undefined;
  /** What is claimed in its place, or is missing. */
  readonly event: HeldEvent | undefined;
  /** The place in the list of gaps at which something is put in. */
  readonly gap: number | undefined;
}

/** How many entries are tried for one pattern, in each way. */
const triedForEach = 40;

/** What candidates are made from. */
export interface Search {
  readonly journal: Journal;
  readonly tracks: Tracks;
  readonly failed: readonly FailedClaim[];
  /** Where something may be put in: between the events that the failed claims hear. */
  readonly gaps: readonly Opening[];
  /** A number for what is put in, so that several do not meet. */
  readonly round: number;
  /** Entries near to what is claimed, as they are found. */
  readonly near: Map<HeldEvent, readonly Near[]>;
}

/** An entry that does not fit a pattern, and how far it is from it. */
interface Near {
  readonly entry: HeldEntry;
  readonly distance: number;
}

/** What may explain failed claims, the likeliest kinds first. */
export function* candidatesFor(search: Search): Generator<Candidate> {
  const wants = search.failed.flatMap(wantedBy);
  const wanted = distinct(wants.map(({ event }) => event));
  const byId = new Map(search.journal.entries.map((entry) => [entry.id, entry]));
  const unwanted = [...new Set(search.failed.flatMap(unwantedBy))].flatMap(
    (id) => byId.get(id) ?? [],
  );
  const made = madeDuring(search.journal);
  for (const entry of unwanted) yield* drops(entry, made);
  // One call more mends no claim that misses several.
  const single = wanted.filter((event) =>
    wants.some((want) => want.missing === 1 && samePattern(want.event, event)),
  );
  for (const event of single) yield* mended(search, event);
  for (const event of single) yield* fromOtherMembers(search, event);
  for (const event of single) yield* insertions(search, event);
  yield* moves(search, unwanted, wanted);
}

function distinct(events: readonly HeldEvent[]): readonly HeldEvent[] {
  const found: HeldEvent[] = [];
  for (const event of events)
    if (!found.some((other) => samePattern(other, event))) found.push(event);
  return found;
}

function* drops(
  entry: HeldEntry,
  made: ReadonlyMap<number, readonly HeldEntry[]>,
): Generator<Candidate> {
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
function* mended({ journal, near }: Search, event: HeldEvent): Generator<Candidate> {
  const calls = callsOf(event);
  const found = near.get(event) ?? nearestTo(event, journal);
  near.set(event, found);
  for (const { entry, distance } of found) {
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
    if (eventFit(event, mend) !== 'fits') continue;
    yield {
      alteration,
      change: { without: [entry], added: [mend] },
      distance,
      entry,
      event,
      gap: undefined,
    };
  }
}

function nearestTo(event: HeldEvent, { entries }: Journal): readonly Near[] {
  const nearness = nearnessTo(event, entries);
  return entries
    .filter((entry) => speaksOf(callsOf(event), entry) && eventFit(event, entry) === 'differs')
    .map((entry) => ({ entry, distance: nearness.roughly(entry) }))
    .sort((one, other) => one.distance - other.distance || one.entry.id - other.entry.id)
    .slice(0, triedForEach)
    .filter(({ entry }) => nearness.of(entry).isAlike);
}

/** Calls of other members with the claimed arguments. */
function* fromOtherMembers({ journal }: Search, event: HeldEvent): Generator<Candidate> {
  const calls = callsOf(event);
  if (calls.of !== 'call') return;
  const { target } = calls.member;
  let tried = 0;
  for (const entry of journal.entries) {
    if (entry.target === target || (entry.kind !== 'call' && entry.kind !== 'construct')) continue;
    const isAlike =
      calls.claimed !== undefined &&
      compareArguments(calls.claimed, seenBy(calls, entry), contextOf(entry, journal)).length === 0;
    if (!isAlike) continue;
    const outcome = isEnd(event) ? fittingOutcome(event, entry.outcome) : undefined;
    const mend = alteredEntry(entry, { target, ...(outcome === undefined ? {} : { outcome }) });
    if (eventFit(event, mend) !== 'fits') continue;
    yield {
      alteration: 'member',
      change: { without: [entry], added: [mend] },
      distance: entry.target.double === target.double ? 0 : 1,
      entry,
      event,
      gap: undefined,
    };
    if (++tried >= triedForEach) return;
  }
}

/** What is missing, at every gap. */
function* insertions(search: Search, event: HeldEvent): Generator<Candidate> {
  const told = search.failed
    .flatMap(placesIn)
    .filter((place) => sameCalls(callsOf(place.event), callsOf(event)));
  for (const { behind, gap } of places(search)) {
    const { after, before } = search.gaps[gap] as Opening;
    const isTold = told.some(
      (place) => (after?.id ?? 0) >= place.after && (before?.id ?? place.before) <= place.before,
    );
    const tick = tickBehind(behind, 8 * search.round + 1);
    const entry = missingEntry(search, event, tick, 0);
    if (entry === undefined) return;
    yield {
      alteration: 'insert',
      change: { without: [], added: [entry] },
      distance: isTold ? 0 : 1,
      entry: undefined,
      event,
      gap,
    };
  }
}

function places({ gaps }: Search): readonly { readonly behind: number; readonly gap: number }[] {
  return gaps.flatMap(({ ticks }, gap) => ticks.map((behind) => ({ behind, gap })));
}

/**
 * An entry that fits a pattern, at a tick; with an end that other claims want of such calls, or that others of the
 * member have.
 *
 * @param place among several that are put in
 */
export function missingEntry(
  { journal, failed, round }: Search,
  event: HeldEvent,
  tick: number,
  place: number,
): HeldEntry | undefined {
  const calls = callsOf(event);
  const args = fittingArguments(calls, []);
  if (args === undefined) return undefined;
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
  const ends = [
    event,
    ...failed.flatMap(({ claim }) =>
      partsOf(claim)
        .hears(claim)
        .events.flatMap((each) => each ?? []),
    ),
  ];
  for (const end of ends) {
    if (!isEnd(end) || end.of === 'unfinished' || eventFit(end.calls, made) !== 'fits') continue;
    // The end that a claim wants with a value says more than the usual one.
    if (eventFit(end, made) === 'fits' || (end !== event && end.claimed.length === 0)) continue;
    const outcome = fittingOutcome(end, usual);
    if (outcome !== undefined) return { ...made, outcome };
  }
  return made;
}

/** Entries that came at the wrong place, at every gap. */
function* moves(
  search: Search,
  unwanted: readonly HeldEntry[],
  wanted: readonly HeldEvent[],
): Generator<Candidate> {
  if (!search.failed.some(isOfOrder)) return;
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
      wanted.some((event) => tells(event) && eventFit(event, entry) === 'fits') ||
      stretched.some((event) => eventFit(event, entry) === 'fits'),
  );
  for (const entry of new Set([...unwanted, ...misplaced.slice(0, triedForEach)])) {
    for (const { behind, gap } of places(search)) {
      const { after, before } = search.gaps[gap] as Opening;
      if (after === entry || before === entry) continue;
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
