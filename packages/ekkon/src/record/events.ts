import { forEachJournal } from './each-journal.ts';
import type { HeldEntry, Journal } from './journal.ts';
import type { HeldMark } from './mark.ts';

/** The event at each tick, from tick 1: an entry's beginning, its end, or a mark. */
export type Events = readonly (HeldEntry | HeldMark | undefined)[];

interface Known {
  tick: number;
  events: Events;
}

/** Ticks for each entry beyond which an engine keeps a list by its places. */
const sparseFrom = 64;

const knownOn = forEachJournal<Known>(() => ({ tick: 0, events: [] }));

/**
 * The events of a journal in the order of their ticks: the one of tick t stands at place t - 1. They are put in
 * order when somebody asks, and not as they are recorded, which would cost each call.
 */
export function eventsOf(journal: Journal): Events {
  const known = knownOn(journal);
  if (known.tick === journal.tick) return known.events;
  // Of a long record of which only few entries are at hand, a list with holes takes no room for the others.
  const isSparse = journal.tick > sparseFrom * (1 + journal.entries.length);
  const events: (HeldEntry | HeldMark | undefined)[] = isSparse
    ? []
    : new Array(journal.tick).fill(undefined);
  for (const entry of journal.entries) {
    events[entry.began - 1] = entry;
    if (entry.ended !== undefined) events[entry.ended - 1] = entry;
  }
  for (const mark of journal.marks) events[mark.tick - 1] = mark;
  known.tick = journal.tick;
  known.events = events;
  return events;
}
