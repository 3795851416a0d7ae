import type { Outcome } from '../record/entry.ts';
import { eventsOf } from '../record/events.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { isMark } from '../record/mark.ts';
import type { Target } from '../record/target.ts';
import { grouped } from '../value/grouped.ts';

/** An entry's beginning or its end, at its tick. */
export interface RecordedEvent {
  readonly entry: HeldEntry;
  readonly end: boolean;
  readonly tick: number;
}

/**
 * One change to a record: entries that are removed, and entries that are added. Added entries have ticks between
 * those of the record, so everything else, marks too, stays in place.
 */
export interface Change {
  readonly without: readonly HeldEntry[];
  readonly added: readonly HeldEntry[];
}

/** Two changes as one. */
export function both(one: Change, other: Change): Change {
  const gone = new Set(other.without);
  return {
    without: [...one.without, ...other.without.filter((entry) => !one.added.includes(entry))],
    added: [...one.added.filter((entry) => !gone.has(entry)), ...other.added],
  };
}

export const noChange: Change = { without: [], added: [] };

/** The events of a record in the order of their ticks, marks aside. */
export function recordedEvents(journal: Journal): readonly RecordedEvent[] {
  const found: RecordedEvent[] = [];
  forEachEvent(journal, (entry, end, tick) => found.push({ entry, end, tick }));
  return found;
}

/** Goes through the events of a record in the order of their ticks, marks aside. */
export function forEachEvent(
  journal: Journal,
  take: (entry: HeldEntry, end: boolean, tick: number) => void,
): void {
  eventsOf(journal).forEach((entry, at) => {
    if (entry === undefined || isMark(entry)) return;
    take(entry, entry.began !== at + 1, at + 1);
  });
}

/** The events of one entry. */
export function eventsIn(entry: HeldEntry): readonly RecordedEvent[] {
  const begins = { entry, end: false, tick: entry.began };
  return entry.ended === undefined ? [begins] : [begins, { entry, end: true, tick: entry.ended }];
}

/** The events of a record after a change. */
export function changedEvents(
  events: readonly RecordedEvent[],
  { without, added }: Change,
): readonly RecordedEvent[] {
  const gone = new Set(without);
  const left = events.filter(({ entry }) => !gone.has(entry));
  if (added.length === 0) return left;
  return [...left, ...added.flatMap(eventsIn)].sort((one, other) => one.tick - other.tick);
}

/** The new form of an entry. */
export interface EntryChange {
  readonly id?: number;
  readonly args?: readonly unknown[];
  readonly target?: Target;
  readonly outcome?: Outcome;
  readonly began?: number;
  readonly ended?: number | undefined;
}

/** An entry that was altered. The one that was recorded stays as it is. */
export function alteredEntry(entry: HeldEntry, change: EntryChange): HeldEntry {
  return { ...entry, ...change };
}

/**
 * A new tick in the gap behind a tick.
 *
 * @param place from 1, among the entries added in that gap
 */
export function tickBehind(tick: number, place: number): number {
  return tick + place / placesInGap;
}

/** How many events one gap takes. */
const placesInGap = 1_024;

/** Entries by the ids of the calls during which they were made. */
export type MadeDuring = ReadonlyMap<number | undefined, readonly HeldEntry[]>;

/** The entries that were made during each call, by its id. */
export function madeDuring({ entries }: Journal): MadeDuring {
  return grouped(entries, ({ parent }) => parent);
}

/** All that was made in a call, also in calls that were made in it. */
export function madeIn(made: MadeDuring, { id }: HeldEntry): readonly HeldEntry[] {
  return (made.get(id) ?? []).flatMap((entry) => [entry, ...madeIn(made, entry)]);
}
