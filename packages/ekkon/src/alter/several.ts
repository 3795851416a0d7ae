import { partsOf } from '../claim/kinds.ts';
import type { Wanted } from '../claim/parts.ts';
import type { FoundCause } from '../explain/cause.ts';
import { printTarget } from '../notation/label.ts';
import { type HeldEvent, targetOf, tells } from '../pattern/event.ts';
import { eventFit } from '../pattern/fit.ts';
import { samePattern } from '../pattern/same-pattern.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Target } from '../record/target.ts';
import { grouped } from '../value/grouped.ts';
import { missingArguments, missingEntry, type Search } from './candidates.ts';
import { type Change, tickBehind } from './change.ts';
import { type FailedClaim, placesIn, wantedBy } from './failed-claim.ts';

/** Several entries changed at once: the report, and the change. */
export type Several = Pick<FoundCause, 'alteration' | 'entries'> &
  Partial<FoundCause> & {
    readonly change: Change;
    /** Whether it inserts missing entries. */
    readonly mendsMissing: boolean;
  };

/** How many entries are put in at most. */
const addedMost = 40;

/** A pattern that failed claims want more of, and whether a claim says where. */
type Want = Wanted & { readonly isInOrder: boolean };

/**
 * Changes of several entries that one fault may have caused, the most specific first: a turn of a loop, steps that are
 * missing at one place of a sequence, all calls of one member or of one double, and the end of the record.
 */
export function* severalFor(search: Search): Generator<Several> {
  const wanted = wantedIn(search);
  yield* turns(search, wanted);
  yield* stepsAtOnePlace(search);
  yield* surplusOfOneMember(search);
  yield* missingOfOneMember(search, wanted);
  yield* missingOfOneDouble(search, wanted);
  yield* tail(search, wanted);
}

function wantedIn({ failed }: Search): readonly Want[] {
  return failed
    .flatMap((each) => wantedBy(each).map((want) => ({ ...want, isInOrder: isInOrder(each) })))
    .sort((one, other) => rankWanted(one) - rankWanted(other));
}

/** Whether a claim fixes the order of its events. */
function isInOrder({ claim }: FailedClaim): boolean {
  return partsOf(claim).patternAt !== undefined;
}

/** Steps of a sequence come first, patterns without arguments last, because other entries may be meant by them. */
function rankWanted(want: Want): number {
  return (tells(want.event) ? 0 : 2) + (want.isInOrder ? 0 : 1);
}

/**
 * The missing entries after a tick, in their order; an entry that several claims need comes once.
 *
 * @param placeOf the tick after which one comes, if that is another one
 */
function entriesFor(
  search: Search,
  wanted: readonly Want[],
  behind: number,
  placeOf: (event: HeldEvent) => number | undefined = () => undefined,
): readonly HeldEntry[] {
  const added: HeldEntry[] = [];
  const isLacking = ({ event, missing }: Want) =>
    added.filter((entry) => eventFit(event, entry) === 'fits').length < missing;
  for (const want of wanted) {
    while (isLacking(want)) {
      const args = missingArguments(
        want.event,
        wanted.filter(isLacking).map(({ event }) => event),
      );
      if (args === undefined || added.length >= addedMost) return needed(added, wanted);
      const tick = tickBehind(placeOf(want.event) ?? behind, 8 * added.length + 8);
      const entry = missingEntry(search, want.event, args, tick, added.length);
      added.push(entry);
      if (eventFit(want.event, entry) !== 'fits') break;
    }
  }
  return needed(added, wanted);
}

/** Those of some entries that are needed: an entry that was made for a wide pattern may be left out beside narrower ones. */
function needed(added: readonly HeldEntry[], wanted: readonly Want[]): readonly HeldEntry[] {
  const wants = wanted.map(({ event, missing }) => {
    const fitting = new Set(added.filter((entry) => eventFit(event, entry) === 'fits'));
    return { fitting, spare: fitting.size - missing };
  });
  return added.filter((entry) => {
    const its = wants.filter(({ fitting }) => fitting.has(entry));
    if (its.some(({ spare }) => spare <= 0)) return true;
    for (const want of its) want.spare--;
    return false;
  });
}

/** One more turn of a loop: each of some members is missing once, and they came together as often before. */
function* turns(search: Search, wanted: readonly Want[]): Generator<Several> {
  const { entries } = search.journal;
  const byCount = grouped(distinctTargets(wanted), (target) => callsIn(entries, target).length);
  for (const [count, targets] of byCount) {
    if (count === 0 || targets.length < 2) continue;
    const among = new Set(targets);
    const turn = entries.filter(({ target }) => among.has(target)).slice(-targets.length);
    const last = turn.at(-1);
    const isTurn = new Set(turn.map(({ target }) => target)).size === targets.length;
    if (!isTurn || last === undefined) continue;
    const place = new Map(turn.map(({ target }, at) => [target, at]));
    const inTurn = wanted
      .filter(({ event }) => among.has(targetOf(event)))
      .sort(
        (one, other) =>
          placeOf(place, one) - placeOf(place, other) || rankWanted(one) - rankWanted(other),
      );
    const added = [...entriesFor(search, inTurn, last.ended ?? last.began)].sort(
      (one, other) => one.began - other.began,
    );
    if (added.length !== targets.length) continue;
    const next = entries.find(({ began }) => began > last.began);
    yield {
      alteration: 'insert',
      entries: [],
      missing: labelsOf(added),
      turn: count + 1,
      between: [entryData(last), next && entryData(next)],
      change: { without: [], added },
      mendsMissing: true,
    };
  }
}

function placeOf(place: ReadonlyMap<Target, number>, { event }: Want): number {
  return place.get(targetOf(event)) ?? 0;
}

/** The steps that a sequence misses between the same two events. */
function* stepsAtOnePlace(search: Search): Generator<Several> {
  const { entries, tick } = search.journal;
  const byId = byIdIn(search);
  for (const failed of search.failed) {
    const places = grouped(placesIn(failed), ({ after, before }) => `${after} ${before}`);
    for (const steps of places.values()) {
      const [first] = steps;
      if (first === undefined || steps.length < 2) continue;
      const [after, before] = [byId.get(first.after), byId.get(first.before)];
      const behind =
        after?.ended ?? after?.began ?? (before === undefined ? tick : before.began - 1);
      const wants = steps.map(({ event }) => ({ event, missing: 1, isInOrder: true }));
      const added = entriesFor(search, wants, behind);
      if (added.length < 2) continue;
      const isLast = before === undefined && after !== undefined && after === entries.at(-1);
      yield {
        alteration: isLast ? 'tail' : 'insert',
        entries: isLast ? [entryData(after)] : [],
        missing: labelsOf(added),
        between: [after && entryData(after), before && entryData(before)],
        change: { without: [], added },
        mendsMissing: true,
      };
    }
  }
}

/** Everything that claims have too much of, member by member. */
function* surplusOfOneMember({ failed, journal }: Search): Generator<Several> {
  const ids = new Set(
    failed.flatMap(({ diagnosis }) => (diagnosis.code === 'surplusCall' ? diagnosis.culprits : [])),
  );
  const surplus = journal.entries.filter(({ id }) => ids.has(id));
  for (const entries of grouped(surplus, ({ target }) => target).values()) {
    if (entries.length < 2) continue;
    yield {
      alteration: 'drop',
      entries: entries.map(entryData),
      together: true,
      change: { without: entries, added: [] },
      mendsMissing: false,
    };
  }
}

/** Everything that claims miss, member by member. */
function* missingOfOneMember(search: Search, wanted: readonly Want[]): Generator<Several> {
  const { entries, tick } = search.journal;
  const places = placesAsTold(search);
  for (const target of distinctTargets(wanted)) {
    const own = wanted.filter(({ event }) => targetOf(event) === target);
    const calls = callsIn(entries, target);
    const unclaimed = calls.filter((entry) => !search.isClaimed(entry)).length;
    const added = entriesFor(search, own, tick, places);
    // As many calls that no claim wants are the expected ones gone wrong.
    if (added.length === 0 || unclaimed >= added.length) continue;
    yield {
      alteration: 'insert',
      entries: [],
      missing: labelsOf(added),
      counts: { received: calls.length, missing: added.length, kind: (added[0] as HeldEntry).kind },
      change: { without: [], added },
      // A claim that counts all calls of the member has counted these.
      mendsMissing: !own.some(({ event, missing }) => !tells(event) && missing >= added.length),
    };
  }
}

/** The tick after which a sequence misses an event: when the event before it has ended. */
function placesAsTold(search: Search): (event: HeldEvent) => number | undefined {
  const byId = byIdIn(search);
  const told = search.failed.flatMap(placesIn);
  return (event) => {
    const place = told.find((each) => samePattern(each.event, event));
    const after = byId.get(place?.after ?? 0);
    return after?.ended ?? after?.began;
  };
}

/** Everything that claims miss of a double that nothing used. */
function* missingOfOneDouble(search: Search, wanted: readonly Want[]): Generator<Several> {
  const { entries, tick } = search.journal;
  if (entries.length === 0) return;
  const byDouble = grouped(wanted, ({ event }) => targetOf(event).double);
  for (const [double, wants] of byDouble) {
    if (entries.some(({ target }) => target.double === double)) continue;
    const added = entriesFor(search, wants, tick);
    if (new Set(added.map(({ target }) => target)).size < 2) continue;
    yield {
      alteration: 'insert',
      entries: [],
      missing: labelsOf(added),
      member: double,
      change: { without: [], added },
      mendsMissing: true,
    };
  }
}

/** Everything that is missing, put in at the end of the record. */
function* tail(search: Search, wanted: readonly Want[]): Generator<Several> {
  const { entries, tick } = search.journal;
  const added = entriesFor(search, wanted, tick);
  if (added.length < 2 || !mayHaveStopped(search, added)) return;
  const held = entries.at(-1);
  const last = held && entryData(held);
  yield {
    alteration: 'tail',
    entries: last === undefined ? [] : [last],
    missing: labelsOf(added),
    between: [last, undefined],
    change: { without: [], added },
    mendsMissing: true,
  };
}

/**
 * Whether a record looks as if it stopped too early: it is empty, a sequence misses its last steps, or several members
 * were never called.
 */
function mayHaveStopped({ journal, failed }: Search, added: readonly HeldEntry[]): boolean {
  const { entries } = journal;
  if (entries.length === 0) return true;
  const places = failed.flatMap(placesIn);
  if (places.some(({ before }) => before !== Number.POSITIVE_INFINITY)) return false;
  if (places.length > 0 || failed.some((each) => waitsAtEnd(each, entries.length))) return true;
  const targets = new Set(added.map(({ target }) => target));
  return targets.size >= uncalledLeast && !entries.some(({ target }) => targets.has(target));
}

/** Whether one of the last entries should have been followed by an event that never came. */
function waitsAtEnd({ diagnosis }: FailedClaim, last: number): boolean {
  return (
    diagnosis.code === 'neverFollowed' &&
    diagnosis.moments.every(({ entry }) => entry.id > last - lastOnes)
  );
}

/** How many entries are the last ones. */
const lastOnes = 4;

/** From how many members without a call on the record looks cut off. */
const uncalledLeast = 3;

function distinctTargets(wanted: readonly Want[]): readonly Target[] {
  return [...new Set(wanted.map(({ event }) => targetOf(event)))];
}

function byIdIn({ journal }: Search): ReadonlyMap<number, HeldEntry> {
  return new Map(journal.entries.map((entry) => [entry.id, entry]));
}

function callsIn(entries: readonly HeldEntry[], target: Target): readonly HeldEntry[] {
  return entries.filter((entry) => entry.target === target);
}

function labelsOf(entries: readonly HeldEntry[]): readonly string[] {
  return [...new Set(entries.map(({ target }) => printTarget(target)))];
}
