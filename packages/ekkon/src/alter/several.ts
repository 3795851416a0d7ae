import { callsOf, type HeldEvent, targetOf, tells } from '../pattern/event.ts';
import { eventFit } from '../pattern/fit.ts';
import { samePattern } from '../pattern/same-pattern.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import { grouped } from '../value/grouped.ts';
import { printsAs } from '../value/prints-as.ts';
import type { Search } from './candidates.ts';
import { type FailedClaim, placesIn } from './failed-claim.ts';
import { missingTurns, surplusTurns, turns, wantedLike } from './turns.ts';
import {
  callsIn,
  distinctTargets,
  dropped,
  entriesFor,
  goneWrong,
  inserted,
  labelsOf,
  type Several,
  type Want,
  wantedIn,
} from './wanted.ts';

/**
 * Changes of several entries that one fault may have caused, the most specific first: a turn of a loop, steps that are
 * missing at one place of a sequence, all calls of one member or of one double, and the end of the record.
 */
export function* severalFor(search: Search): Generator<Several> {
  const wanted = wantedIn(search);
  const ownOf = wantedLike(wanted, search);
  yield* turns(search, wanted, ownOf);
  yield* missingTurns(search, wanted, ownOf);
  yield* surplusTurns(search);
  yield* stepsAtOnePlace(search);
  yield* surplusOfOneMember(search);
  yield* missingOfOneMember(search, wanted);
  yield* missingOfOneDouble(search, wanted);
  yield* tail(search, wanted);
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
      const wants = steps.map(({ event }) => ({ event, missing: 1, isInOrder: true, failed }));
      const added = entriesFor(search, wants, behind);
      if (added.length < 2) continue;
      const isLast = before === undefined && after !== undefined && after === entries.at(-1);
      yield inserted(added, () => {
        const patterns = labelsOf(added).length === 1 ? narrowest(wants, added) : [];
        return {
          ...(patterns.length > 1 ? { missing: patterns } : {}),
          ...(isLast ? { alteration: 'tail', entries: [entryData(after)] } : {}),
          between: [after && entryData(after), before && entryData(before)],
        };
      });
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
    yield dropped(entries);
  }
}

/** Everything that claims miss, member by member. */
function* missingOfOneMember(search: Search, wanted: readonly Want[]): Generator<Several> {
  const { entries, tick } = search.journal;
  const places = placesAsTold(search);
  for (const target of distinctTargets(wanted)) {
    const own = wanted.filter(({ event }) => targetOf(event) === target);
    const calls = callsIn(entries, target);
    const added = entriesFor(search, own, tick, places);
    if (added.length === 0 || goneWrong(search, own, added).length > 0) continue;
    const { kind } = added[0] as HeldEntry;
    const counts = { received: calls.length, missing: added.length, kind };
    yield {
      ...inserted(added, () => ({ counts: { ...counts, patterns: narrowest(own, added) } })),
      // A claim that counts all calls of the member has counted these.
      mendsMissing: !own.some(({ event, missing }) => !tells(event) && missing >= added.length),
    };
  }
}

/** Of each missing entry, the pattern that says most about it, as written; none if one has none that says anything. */
function narrowest(wanted: readonly Want[], added: readonly HeldEntry[]): readonly string[] {
  const patterns = wanted.flatMap(({ event }) => (tells(event) ? [callsOf(event)] : []));
  const telling = patterns
    .map((calls) => ({
      calls,
      fitting: added.filter((entry) => eventFit(calls, entry) === 'fits'),
    }))
    .sort((one, other) => one.fitting.length - other.fitting.length);
  const found = added.map((entry) => telling.find(({ fitting }) => fitting.includes(entry))?.calls);
  if (found.includes(undefined)) return [];
  return patterns.filter((calls) => found.includes(calls)).map((calls) => calls[printsAs]);
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
    yield inserted(added, () => ({ member: double }));
  }
}

/** Everything that is missing, put in at the end of the record. */
function* tail(search: Search, wanted: readonly Want[]): Generator<Several> {
  const { entries, tick } = search.journal;
  const all = entriesFor(search, wanted, tick);
  const wrong = goneWrong(search, wanted, all);
  const absent = wanted.filter(({ event }) => !wrong.includes(targetOf(event)));
  const added = wrong.length === 0 ? all : entriesFor(search, absent, tick);
  if (added.length < 2 || !mayHaveStopped(search, added)) return;
  const held = entries.at(-1);
  const last = held && entryData(held);
  yield inserted(added, () => ({
    alteration: 'tail',
    entries: last === undefined ? [] : [last],
    between: [last, undefined],
  }));
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
  const isAtEnd = ({ after }: { readonly after: number }) => after > entries.length - lastOnes;
  if (places.length > 0 && places.every(isAtEnd)) return true;
  if (failed.some((each) => waitsAtEnd(each, entries.length))) return true;
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

function byIdIn({ journal }: Search): ReadonlyMap<number, HeldEntry> {
  return new Map(journal.entries.map((entry) => [entry.id, entry]));
}
