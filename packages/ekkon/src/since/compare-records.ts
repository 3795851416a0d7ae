import type { Change } from '../explain/since.ts';
import { compare } from '../match/compare.ts';
import { compareArguments } from '../match/compare-arguments.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { type Difference, distanceOf } from '../value/difference.ts';
import { firstPlace } from '../value/first-place.ts';
import { grouped } from '../value/grouped.ts';
import { align } from './align.ts';
import { isTelling } from './unsteady.ts';

/** A change, and when it is to be told: a tick of the later record. */
export type FoundChange = Change<HeldEntry> & Found;

interface Found {
  readonly tick: number;
  /** For a new call: the call right before it that came then, too. */
  readonly behind?: HeldEntry | undefined;
  /** The other call of `moved` and `ended`, as it was. */
  readonly wasBeside?: HeldEntry;
}

/** A call of the earlier record, and the same one in the later. */
export interface Pair {
  readonly was: HeldEntry;
  readonly now: HeldEntry;
  /** Whether they have the same place among the aligned calls. */
  readonly isInPlace: boolean;
}

/** The comparison of two records. */
export interface RecordComparison {
  readonly pairs: readonly Pair[];
  /** In the order of time. */
  readonly changes: readonly FoundChange[];
}

/** How records are compared. */
export interface Comparing {
  /** A text for each call: calls of equal texts are the same. */
  readonly keyOf: (entry: HeldEntry) => string;
  /** Whether the place of a call among others says nothing. */
  readonly isLoose: (was: HeldEntry) => boolean;
  /** The differences of a call's arguments that count. */
  readonly steady: (was: HeldEntry, differences: readonly Difference[]) => readonly Difference[];
  /** Whether the later record has not come to a call of the earlier one yet: then no other call stands for it. */
  readonly isToCome?: (was: HeldEntry) => boolean;
}

/**
 * Compares two records, as they were read from their lines: which calls are gone, new or moved, which have other
 * arguments or another outcome, and which ended on the other side of a beginning.
 *
 * @returns `undefined` if they have too little in common to be aligned
 */
export function compareRecords(
  before: Journal,
  after: Journal,
  { keyOf, isLoose, steady, isToCome = () => false }: Comparing,
): RecordComparison | undefined {
  const [oldKeys, newKeys] = [before.entries.map(keyOf), after.entries.map(keyOf)];
  const alignment = align(oldKeys, newKeys);
  if (alignment === undefined) return undefined;
  const left = new Leftovers(before.entries, after.entries, alignment.toAfter, alignment.toBefore);
  left.pairMoved(oldKeys, newKeys);
  left.pairChanged(
    steady,
    (gone, made) => !isToCome(gone.entry) && (gone.gap === made.gap || isLoose(gone.entry)),
  );
  const pairs = left.pairs.sort((one, other) => one.was.began - other.was.began);
  const inPlace = pairs.filter(({ isInPlace }) => isInPlace);
  const changes = [
    ...left.changes(isToCome),
    ...left.moved.flatMap((pair) => movedPast(pair, inPlace)),
    ...pairs.flatMap(outcomeChange),
    ...endChanges(inPlace),
  ];
  return { pairs, changes: changes.sort((one, other) => one.tick - other.tick) };
}

/** An entry that the alignment left over, and where: between which aligned ones. */
interface Leftover {
  readonly entry: HeldEntry;
  readonly at: number;
  readonly gap: number;
}

/** The entries of two records that an alignment leaves over, paired step by step. */
class Leftovers {
  readonly pairs: Pair[] = [];
  readonly moved: Pair[] = [];
  private readonly found: FoundChange[] = [];
  private readonly before: readonly HeldEntry[];
  private readonly after: readonly HeldEntry[];
  private gone: readonly Leftover[];
  private made: readonly Leftover[];

  constructor(
    before: readonly HeldEntry[],
    after: readonly HeldEntry[],
    toAfter: readonly number[],
    toBefore: readonly number[],
  ) {
    [this.before, this.after] = [before, after];
    before.forEach((was, at) => {
      const now = after[toAfter[at] as number];
      if (now !== undefined) this.pairs.push({ was, now, isInPlace: true });
    });
    [this.gone, this.made] = [leftIn(before, toAfter), leftIn(after, toBefore)];
  }

  /** The same call at another place, if it came as often as it does now: else one of them is gone, or new. */
  pairMoved(oldKeys: readonly string[], newKeys: readonly string[]): void {
    const [before, after] = [grouped(oldKeys, own), grouped(newKeys, own)];
    const places = grouped(this.made, ({ at }) => newKeys[at]);
    const taken = new Map<string, number>();
    for (const { entry, at } of this.gone) {
      const key = oldKeys[at] ?? '';
      if (before.get(key)?.length !== after.get(key)?.length) continue;
      const count = taken.get(key) ?? 0;
      const found = places.get(key)?.[count];
      if (found === undefined) continue;
      taken.set(key, count + 1);
      this.moved.push(this.pair(entry, found.entry));
    }
    this.leave();
  }

  /** Calls of one member with other arguments, among those that may be the same: the nearest first. */
  pairChanged(
    steady: Comparing['steady'],
    mayBe: (gone: Leftover, made: Leftover) => boolean,
  ): void {
    const made = grouped(this.made, ({ entry }) => targetKey(entry));
    const gone = grouped(this.gone, ({ entry }) => targetKey(entry));
    const tried = this.gone.flatMap((one) => {
      const key = targetKey(one.entry);
      const others = made.get(key) ?? [];
      const all = gone.get(key) ?? [];
      // Of very many, those go together that have the same place among them.
      const isMany = all.length * others.length > pairsCompared;
      const near = isMany ? others.slice(all.indexOf(one)).slice(0, 1) : others;
      return near
        .filter((each) => mayBe(one, each))
        .map((each) => {
          const { args } = one.entry;
          const differences = compareArguments({ items: args, rest: false }, each.entry.args);
          const distance = distanceOf(steady(one.entry, differences));
          return { gone: one, each, differences, distance };
        });
    });
    tried.sort(
      (one, other) =>
        one.distance - other.distance ||
        Math.abs(one.gone.at - one.each.at) - Math.abs(other.gone.at - other.each.at),
    );
    const paired = new Set<HeldEntry>();
    for (const { gone, each, differences } of tried) {
      if (paired.has(gone.entry) || paired.has(each.entry)) continue;
      paired.add(gone.entry).add(each.entry);
      const { was, now } = this.pair(gone.entry, each.entry, gone.gap === each.gap);
      this.found.push({ is: 'changed', was, now, differences, tick: now.began });
    }
    this.leave();
  }

  /** The rest, after every possible pair was made. */
  changes(isToCome: (was: HeldEntry) => boolean): readonly FoundChange[] {
    const replaced = new Set<HeldEntry>();
    const inGap = grouped(this.made, ({ gap }) => gap);
    const goneIn = grouped(this.gone, ({ gap }) => gap);
    for (const { entry: was, gap } of this.gone) {
      if (isToCome(was)) continue;
      const made = (inGap.get(gap) ?? []).filter(({ entry }) => !replaced.has(entry));
      const isAlone = made.length === 1 && goneIn.get(gap)?.length === 1;
      const found = made.find(
        ({ entry }) =>
          isAlone || (was.args.length > 0 && compare(was.args, entry.args).length === 0),
      );
      if (found === undefined) continue;
      const now = found.entry;
      replaced.add(was).add(now);
      this.found.push({ is: 'replaced', was, now, tick: now.began });
    }
    const after = this.latestBefore(this.before, 'was');
    for (const { entry: was } of this.gone) {
      const last = after.get(was);
      // Right behind the event before it.
      const tick = (last?.began ?? 0) + 0.5;
      if (!replaced.has(was)) this.found.push({ is: 'gone', was, after: last, tick });
    }
    const since = this.latestBefore(this.after, 'now');
    for (const { entry: now } of this.made)
      if (!replaced.has(now))
        this.found.push({ is: 'new', now, tick: now.began, behind: since.get(now) });
    return this.found;
  }

  /** For each call of a record, the last one before it that has its place in both; as it is in the later. */
  private latestBefore(
    entries: readonly HeldEntry[],
    side: 'was' | 'now',
  ): ReadonlyMap<HeldEntry, HeldEntry | undefined> {
    const inPlace = new Map(
      this.pairs.flatMap((pair) => (pair.isInPlace ? [[pair[side], pair.now]] : [])),
    );
    let last: HeldEntry | undefined;
    return new Map(
      entries.map((entry) => {
        const before = last;
        last = inPlace.get(entry) ?? last;
        return [entry, before];
      }),
    );
  }

  private pair(was: HeldEntry, now: HeldEntry, isInPlace = false): Pair {
    const pair = { was, now, isInPlace };
    this.pairs.push(pair);
    return pair;
  }

  private leave(): void {
    const paired = new Set(this.pairs.flatMap(({ was, now }) => [was, now]));
    const isLeft = ({ entry }: Leftover) => !paired.has(entry);
    [this.gone, this.made] = [this.gone.filter(isLeft), this.made.filter(isLeft)];
  }
}

/** Calls of one member that are compared with each other, to find those that go together. */
const pairsCompared = 2_500;

function leftIn(entries: readonly HeldEntry[], partners: readonly number[]): readonly Leftover[] {
  let gap = 0;
  return entries.flatMap((entry, at) => {
    if (partners[at] === -1) return [{ entry, at, gap }];
    gap++;
    return [];
  });
}

function own(key: string): string {
  return key;
}

function targetKey({ target, kind }: HeldEntry): string {
  return `${kind} ${target.label}`;
}

/** Past which call another has moved: the first that stood on its other side. */
function movedPast({ was, now }: Pair, inPlace: readonly Pair[]): readonly FoundChange[] {
  let first: Pair | undefined;
  for (const pair of inPlace) {
    if (pair.was.began < was.began === pair.now.began < now.began) continue;
    if (first === undefined || pair.now.began < first.now.began) first = pair;
  }
  if (first === undefined) return [];
  const isBefore = now.began < first.now.began;
  const tick = Math.min(now.began, first.now.began);
  return [{ is: 'moved', was, now, beside: first.now, wasBeside: first.was, isBefore, tick }];
}

/** Another outcome, unless a plan of the test gave it. */
function outcomeChange({ was, now }: Pair): readonly FoundChange[] {
  if (was.more?.answer !== undefined || now.more?.answer !== undefined) return [];
  if (was.ended === undefined) return [];
  const differences = outcomeDifferences(was, now);
  if (differences.length === 0) return [];
  return [{ is: 'outcome', was, now, differences, tick: now.ended ?? now.began }];
}

function outcomeDifferences({ outcome: was }: HeldEntry, { outcome: now }: HeldEntry) {
  const states: Difference = {
    path: [],
    kind: 'changed',
    expected: was.state,
    received: now.state,
  };
  if (was.state !== now.state) return [states];
  return compare(resultOf(was), resultOf(now)).filter(isTelling);
}

function resultOf(outcome: HeldEntry['outcome']): unknown {
  if ('value' in outcome) return outcome.value;
  return 'reason' in outcome ? outcome.reason : undefined;
}

/** Calls whose end has changed places with the beginning of the next call, or of the one before. */
function endChanges(inPlace: readonly Pair[]): readonly FoundChange[] {
  return inPlace.flatMap((pair, at): readonly FoundChange[] => {
    const { was, now } = pair;
    if (was.ended === undefined || (isAtOnce(was) && isAtOnce(now))) return [];
    const next = inPlace[firstPlace(inPlace, isAfter(was.ended), at)];
    const change = { is: 'ended' as const, was, now };
    if (next !== undefined && (now.ended ?? next.now.began) >= next.now.began) {
      const beside = { beside: next.now, wasBeside: next.was };
      return [{ ...change, ...beside, isBefore: false, tick: next.now.began - 0.25 }];
    }
    const previous = inPlace[firstPlace(inPlace, isAfter(was.ended), at) - 1];
    if (previous === undefined || previous === pair || now.ended === undefined) return [];
    if (now.ended > previous.now.began) return [];
    const beside = { beside: previous.now, wasBeside: previous.was };
    return [{ ...change, ...beside, isBefore: true, tick: now.ended }];
  });
}

function isAtOnce({ began, ended }: HeldEntry): boolean {
  return ended === began + 1;
}

/** Whether the call of a pair began after a tick of the earlier record. */
function isAfter(tick: number): (pair: Pair) => boolean {
  return ({ was }) => was.began > tick;
}
