import { isPrimitive } from '../record/is-primitive.ts';
import type { Hearing, HeldEntry, LedgerRecord } from '../record/ledger-record.ts';
import { type HeldEvent, isEnd, memberOf } from './event.ts';
import { firstClaimed } from './event-index.ts';
import { type PastEntries, pastEntries } from './past-entries.ts';
import { makeTally, type Tally, tallyKey } from './tally.ts';

/** Is told of the events that it may have to do with. */
export interface Watch {
  take(entry: HeldEntry, end: boolean): void;
}

/** Those who wait for a ledger's events, found so that an event costs nothing to those it is not for. */
export interface Watchers extends Hearing {
  /** What was recorded before. */
  readonly past: PastEntries;
  /**
   * Adds a watch for the entries of some patterns, or for all entries; what it gives takes it away again.
   */
  add(watch: Watch, patterns: readonly HeldEvent[] | 'all'): () => void;
  /** How many events fit a pattern, counted once for all who ask for the same. */
  tallyOf(event: HeldEvent): Tally;
}

/** The watches for one member. */
interface OfMember {
  /** By the primitive that a pattern claims as first argument. */
  readonly byFirst: Map<unknown, Set<Watch>>;
  readonly others: Set<Watch>;
}

export function makeWatchers(record: LedgerRecord): Watchers {
  const begins = new Map<string, OfMember>();
  const ends = new Map<string, OfMember>();
  const ofAll = new Set<Watch>();
  const tallies = new Map<string, Tally>();
  const past = pastEntries(record);

  function add(watch: Watch, patterns: readonly HeldEvent[] | 'all'): () => void {
    if (patterns === 'all') return addTo([ofAll], watch);
    return addTo(
      patterns.flatMap((event) => [setFor(begins, event), setFor(ends, event)]),
      watch,
    );
  }

  function tallyOf(event: HeldEvent): Tally {
    const key = tallyKey(event);
    const known = key === undefined ? undefined : tallies.get(key);
    if (known !== undefined) return known;
    const tally = makeTally(event);
    for (const entry of past.for([event])) {
      tally.take(entry, false);
      if (entry.ended !== undefined) tally.take(entry, true);
    }
    addTo([setFor(isEnd(event) ? ends : begins, event)], tally);
    if (key !== undefined) tallies.set(key, tally);
    return tally;
  }

  function hear(entry: HeldEntry, end: boolean): void {
    for (const watch of ofAll) watch.take(entry, end);
    const known = (end ? ends : begins).get(entry.label);
    if (known === undefined) return;
    const [first] = entry.args;
    const sets = isPrimitive(first)
      ? [known.byFirst.get(first), known.others]
      : [...known.byFirst.values(), known.others];
    // One that waits for several patterns of the member is told once.
    const told =
      sets.length > 2 || sets.every((set) => (set?.size ?? 0) > 0) ? new Set<Watch>() : undefined;
    for (const set of sets) {
      for (const watch of set ?? none) {
        if (told?.has(watch)) continue;
        told?.add(watch);
        watch.take(entry, end);
      }
    }
  }

  return { past, add, tallyOf, hear };
}

const none: ReadonlySet<Watch> = new Set();

function setFor(byLabel: Map<string, OfMember>, event: HeldEvent): Set<Watch> {
  const { label } = memberOf(event);
  const known = byLabel.get(label) ?? { byFirst: new Map(), others: new Set() };
  byLabel.set(label, known);
  const first = firstClaimed(event);
  if (first === undefined) return known.others;
  const set = known.byFirst.get(first.value) ?? new Set();
  known.byFirst.set(first.value, set);
  return set;
}

function addTo(sets: readonly Set<Watch>[], watch: Watch): () => void {
  for (const set of sets) set.add(watch);
  return () => {
    for (const set of sets) set.delete(watch);
  };
}
