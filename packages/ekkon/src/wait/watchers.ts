import type { Hearing } from '../claim/parts.ts';
import { Dispatch, type Listener } from '../judge/dispatch.ts';
import { type HeldEvent, isAtEnd, targetOf } from '../pattern/event.ts';
import { firstKey } from '../pattern/pattern-index.ts';
import { samePattern } from '../pattern/same-pattern.ts';
import { forEachJournal } from '../record/each-journal.ts';
import { eventsOf } from '../record/events.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { isMark } from '../record/mark.ts';
import { SharedCount } from './shared-count.ts';

/** The waits for a ledger's events, and the events before them. */
export const watchersOn: (journal: Journal) => Watchers = forEachJournal(
  (journal) => new Watchers(journal),
);

/** Notifies the waits of each event, and lets them share their counts. */
class Watchers {
  private readonly journal: Journal;
  private readonly dispatch = new Dispatch();
  private readonly counts = new Map<number, Map<unknown, Set<SharedCount>>>();
  private readonly removers = new Map<SharedCount, () => void>();
  private readonly ends = new Set<() => void>();
  private listening = 0;
  /** The record so far, by target; brought up to date on demand. */
  private readonly past: HeldEntry[][] = [];
  private caughtUp = 0;

  constructor(journal: Journal) {
    this.journal = journal;
  }

  /** Adds a listener for the events of a claim; the returned function removes it. */
  add(listener: Listener, hearing: Hearing): () => void {
    return this.counted(this.dispatch.add(listener, hearing));
  }

  /** Calls back at the end of each entry; the returned function ends that. */
  addEnds(run: () => void): () => void {
    this.ends.add(run);
    return this.counted(() => this.ends.delete(run));
  }

  /** The count for a pattern, shared by all who ask for one that is the same, as long as anybody does. */
  countOf(event: HeldEvent): { readonly count: SharedCount; readonly dropIfUnused: () => void } {
    const shelf = this.shelfFor(event);
    for (const count of shelf)
      if (samePattern(count.event, event))
        return { count, dropIfUnused: this.dropper(shelf, count) };
    const count = new SharedCount(event);
    const end = isAtEnd(event);
    const to = this.unreadFrom;
    for (const entry of this.pastOf(event))
      if ((end ? (entry.ended ?? to) : entry.began) < to) count.take(entry);
    shelf.add(count);
    this.removers.set(count, this.add(count, { events: [event] }));
    return { count, dropIfUnused: this.dropper(shelf, count) };
  }

  private dropper(shelf: Set<SharedCount>, count: SharedCount): () => void {
    return () => {
      if (count.isUsed) return;
      shelf.delete(count);
      this.removers.get(count)?.();
      this.removers.delete(count);
    };
  }

  private shelfFor(event: HeldEvent): Set<SharedCount> {
    const { number } = targetOf(event);
    const byFirst = this.counts.get(number) ?? new Map<unknown, Set<SharedCount>>();
    this.counts.set(number, byFirst);
    const key = firstKey(event);
    const shelf = byFirst.get(key) ?? new Set();
    byFirst.set(key, shelf);
    return shelf;
  }

  /** Passes the earlier events to a listener, in order. */
  catchUp(listener: Listener, { events, beginnings }: Hearing): void {
    const targets = new Set(
      events.flatMap((event) => (event === undefined ? [] : [targetOf(event)])),
    );
    const isHeard = ({ target }: HeldEntry) => targets.has(target) || beginnings?.(target) === true;
    const entries =
      beginnings === undefined
        ? events.flatMap((event) => (event === undefined ? [] : this.pastOf(event)))
        : this.journal.entries.filter(isHeard);
    const moments: { readonly entry: HeldEntry; readonly end: boolean; readonly tick: number }[] =
      [];
    for (const entry of new Set(entries)) {
      moments.push({ entry, end: false, tick: entry.began });
      if (entry.ended !== undefined) moments.push({ entry, end: true, tick: entry.ended });
    }
    moments.sort((one, other) => one.tick - other.tick);
    const to = this.unreadFrom;
    for (const { entry, end, tick } of moments) if (tick < to) listener.take(entry, end, tick);
  }

  private pastOf(event: HeldEvent): readonly HeldEntry[] {
    const { entries } = this.journal;
    for (; this.caughtUp < entries.length; this.caughtUp++) {
      const entry = entries[this.caughtUp];
      if (entry === undefined) continue;
      const { number } = entry.target;
      const list = this.past[number];
      if (list === undefined) this.past[number] = [entry];
      else list.push(entry);
    }
    return this.past[targetOf(event).number] ?? [];
  }

  /** Listens to the journal as long as anybody listens here. */
  private counted(remove: () => unknown): () => void {
    this.listening++;
    this.journal.hearing = this;
    let isRemoved = false;
    return () => {
      if (isRemoved) return;
      isRemoved = true;
      remove();
      if (--this.listening === 0) this.journal.hearing = undefined;
    };
  }

  hear(entry: HeldEntry, end: boolean): void {
    // Entries after one whose body is being read are passed on with it, in order.
    if (this.journal.unread.size === 0)
      this.tell(entry, end, end ? (entry.ended ?? 0) : entry.began);
  }

  read({ began }: HeldEntry): void {
    if ([...this.journal.unread].some((other) => other.began < began)) return;
    const to = this.unreadFrom;
    const events = eventsOf(this.journal);
    for (let tick = began; tick <= events.length && tick < to; tick++) {
      const entry = events[tick - 1];
      if (entry !== undefined && !isMark(entry)) this.tell(entry, entry.began !== tick, tick);
    }
  }

  private tell(entry: HeldEntry, end: boolean, tick: number): void {
    this.dispatch.tell(entry, end, tick);
    if (end) for (const run of this.ends) run();
  }

  /** The tick from which on events are held back. */
  private get unreadFrom(): number {
    return Math.min(...[...this.journal.unread].map(({ began }) => began));
  }
}
