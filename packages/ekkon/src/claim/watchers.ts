import type { Hearing, HeldEntry, LedgerRecord } from '../record/ledger-record.ts';
import { type HeldEvent, memberOf } from './event.ts';
import { firstClaimed, isPrimitive } from './event-index.ts';
import { type PastEntries, pastEntries } from './past-entries.ts';

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
}

/** The watches for one member. */
interface OfMember {
  /** By the primitive that a pattern claims as first argument. */
  readonly byFirst: Map<unknown, Set<Watch>>;
  readonly others: Set<Watch>;
}

export function makeWatchers(record: LedgerRecord): Watchers {
  const byLabel = new Map<string, OfMember>();
  const ofAll = new Set<Watch>();

  function add(watch: Watch, patterns: readonly HeldEvent[] | 'all'): () => void {
    if (patterns === 'all') {
      ofAll.add(watch);
      return () => ofAll.delete(watch);
    }
    const sets = patterns.map(setFor);
    for (const set of sets) set.add(watch);
    return () => {
      for (const set of sets) set.delete(watch);
    };
  }

  function setFor(event: HeldEvent): Set<Watch> {
    const { label } = memberOf(event);
    const known = byLabel.get(label) ?? { byFirst: new Map(), others: new Set() };
    byLabel.set(label, known);
    const first = firstClaimed(event);
    if (first === undefined) return known.others;
    const set = known.byFirst.get(first.value) ?? new Set();
    known.byFirst.set(first.value, set);
    return set;
  }

  function hear(entry: HeldEntry, end: boolean): void {
    for (const watch of ofAll) watch.take(entry, end);
    const known = byLabel.get(entry.label);
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

  return { past: pastEntries(record), add, hear };
}

const none: ReadonlySet<Watch> = new Set();
