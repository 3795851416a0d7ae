import { isOfOtherForm } from '../explain/other-kind.ts';
import { callsOf, targetOf, tells } from '../pattern/event.ts';
import { eventFit } from '../pattern/fit.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { Target } from '../record/target.ts';
import { grouped } from '../value/grouped.ts';
import { printsAs } from '../value/prints-as.ts';
import type { Search } from './candidates.ts';
import { alteredEntry, tickBehind } from './change.ts';
import { unwantedBy } from './failed-claim.ts';
import {
  callsIn,
  distinctTargets,
  dropped,
  entriesFor,
  inserted,
  labelsOf,
  rankWanted,
  type Several,
  type Want,
} from './wanted.ts';

/** One more turn of a loop: each of some members is missing once, and they came together as often before. */
export function* turns(search: Search, wanted: readonly Want[], ownOf: OwnOf): Generator<Several> {
  const { entries } = search.journal;
  const byCount = grouped(distinctTargets(wanted), (target) => callsIn(entries, target).length);
  for (const [count, targets] of byCount) {
    if (targets.length < 2) continue;
    const among = new Set(targets);
    const turn = entries.filter(({ target }) => among.has(target)).slice(-targets.length);
    const last = turn.at(-1);
    const isTurn = new Set(turn.map(({ target }) => target)).size === targets.length;
    if (!isTurn || last === undefined) continue;
    const place = new Map(turn.map(({ target }, at) => [target, at]));
    const inTurn = ownOf(turn).sort(
      (one, other) =>
        placeOf(place, one) - placeOf(place, other) || rankWanted(one) - rankWanted(other),
    );
    // Calls that came once are a turn if claims want them as they are, or say that there is another.
    const isSure =
      count > 1 || turn.every((entry) => search.isClaimed(entry) || isCounted(entry, inTurn));
    if (!isSure) continue;
    const added = [...entriesFor(search, inTurn, last.ended ?? last.began)].sort(
      (one, other) => one.began - other.began,
    );
    if (added.length !== targets.length) continue;
    const next = entries.find(({ began }) => began > last.began);
    yield inserted(added, () => ({
      turn: count + 1,
      between: [entryData(last), next && entryData(next)],
    }));
  }
}

/** Whether a claim says how many calls of a member there are, or where one comes, and not only that there is a certain one. */
function isCounted({ target }: HeldEntry, wanted: readonly Want[]): boolean {
  return wanted.some(
    ({ event, isInOrder }) => targetOf(event) === target && (isInOrder || !tells(event)),
  );
}

function placeOf(place: ReadonlyMap<Target, number>, { event }: Want): number {
  return place.get(targetOf(event)) ?? 0;
}

/** How many members a turn is looked for by, and how many turns of each are tried. */
const [membersTried, turnsTried] = [12, 8];

/** How many entries a turn has at most. */
const turnMost = 40;

/**
 * A turn that is missing as a whole, as another turn of the record shows it: what claims miss of its members, and the rest
 * of it as it came there.
 */
export function* missingTurns(
  search: Search,
  wanted: readonly Want[],
  ownOf: OwnOf,
): Generator<Several> {
  const missed = new Set(distinctTargets(wanted));
  for (const all of turnsOf(search.journal.entries, missed)) {
    // One alone shows no turn.
    if (all.length < 2) continue;
    const places = [endOf(all.at(-1) ?? []), (all[0]?.[0]?.began ?? 1) - 1];
    const byShape = grouped(all, shapeOf);
    for (const [like = []] of [...byShape.values()].slice(0, turnsTried)) {
      const own = ownOf(like);
      if (distinctTargets(own).length < 2) continue;
      for (const place of places) {
        const added = turnLike(search.journal, like, entriesFor(search, own, place), place);
        const tell = () => ({ missing: toldOf(added, own), like: like.map(entryData) });
        yield { ...inserted(added, tell), needs: own.map(({ failed }) => failed) };
      }
    }
  }
}

/** What is wanted of the members of a turn, less what is of another form than its calls are. */
type OwnOf = (turn: readonly HeldEntry[]) => Want[];

/** Finds what is wanted of turns; which calls are of another form is worked out once. */
export function wantedLike(
  wanted: readonly Want[],
  { patterns, journal: { entries } }: Search,
): OwnOf {
  const known = { patterns, entries };
  const alike = wanted.map(({ event }) => {
    const calls = callsIn(entries, targetOf(event));
    return new Set(calls.filter((entry) => !isOfOtherForm(event, entry, known)));
  });
  return (turn) => wanted.filter((_, at) => turn.some((entry) => alike[at]?.has(entry)));
}

/** A turn once more, with the missing entries in their places. */
function turnLike(
  { entries }: Journal,
  like: readonly HeldEntry[],
  missing: readonly HeldEntry[],
  place: number,
): readonly HeldEntry[] {
  const left = [...missing];
  return like.map((entry, at) => {
    const found = left.findIndex(({ target }) => target === entry.target);
    const [made = entry] = found === -1 ? [] : left.splice(found, 1);
    const began = tickBehind(place, 8 * (at + 1));
    const ended = made.ended === undefined ? undefined : tickBehind(began, 1 / 16);
    return alteredEntry(made, { id: entries.length + at + 1, began, ended });
  });
}

/** The labels of a turn; where a claim says which arguments it misses, these as well, once. */
function toldOf(added: readonly HeldEntry[], wanted: readonly Want[]): readonly string[] {
  const telling = wanted.flatMap(({ event }) => (tells(event) ? [callsOf(event)] : []));
  for (const entry of added) {
    const pattern = telling.find((each) => eventFit(each, entry) === 'fits');
    if (pattern === undefined) continue;
    const label = labelsOf([entry])[0];
    return labelsOf(added).map((each) => (each === label ? pattern[printsAs] : each));
  }
  return labelsOf(added);
}

/** A turn that came too much, of calls that claims have too much of. */
export function* surplusTurns({ failed, journal }: Search): Generator<Several> {
  const ids = new Set(failed.flatMap(unwantedBy));
  const surplus = new Set(journal.entries.flatMap(({ id, target }) => (ids.has(id) ? target : [])));
  for (const all of turnsOf(journal.entries, surplus)) {
    // Of equal turns, the latest is the one that is too much.
    const byShape = grouped(all, shapeOf);
    for (const entries of all.slice(1).reverse().slice(0, turnsTried)) {
      const isOne = byShape.get(shapeOf(entries))?.length === 1;
      if (isOne || new Set(entries.map(({ target }) => target)).size < 2) continue;
      yield dropped(entries);
    }
  }
}

/** The turns of a record, in each way to part it; those alone that begin with the member that was used first of theirs. */
function* turnsOf(
  entries: readonly HeldEntry[],
  concerned: ReadonlySet<Target>,
): Generator<readonly (readonly HeldEntry[])[]> {
  if (concerned.size < 2) return;
  const members = [...new Set(entries.map(({ target }) => target))];
  const place = new Map(members.map((member, at) => [member, at]));
  const placeOf = ({ target }: HeldEntry) => place.get(target) ?? 0;
  const isConcerned = (turn: readonly HeldEntry[]) =>
    turn.some(({ target }) => concerned.has(target));
  for (const [at, by] of members.slice(0, membersTried).entries()) {
    const turns = turnsBy(entries, by).filter((turn) => turn.every((each) => placeOf(each) >= at));
    if (turns.some(isConcerned)) yield turns.filter(isConcerned);
  }
}

/**
 * The entries from each call of a member to the next. What comes after the last one may be no part of its turn, so that
 * one ends where another of the same members would.
 */
function turnsBy(entries: readonly HeldEntry[], by: Target): readonly (readonly HeldEntry[])[] {
  const starts = entries.flatMap(({ target }, at) => (target === by ? [at] : []));
  const turns = starts.map((start, at) => entries.slice(start, starts[at + 1]));
  const last = turns.pop() ?? [];
  const whole = shapeOf(last);
  const lengths = turns.flatMap((turn) => (whole.startsWith(shapeOf(turn)) ? turn.length : []));
  const length = lengths.length === 0 ? last.length : Math.max(...lengths);
  return [...turns, last.slice(0, length)].filter(({ length }) => length <= turnMost);
}

function shapeOf(turn: readonly HeldEntry[]): string {
  return turn.map(({ target }) => `${target.number} `).join('');
}

function endOf(turn: readonly HeldEntry[]): number {
  return Math.max(...turn.map(({ began, ended }) => ended ?? began));
}
