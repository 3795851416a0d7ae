import type { RecordedEvent } from '../alter/change.ts';
import type { HeldEntry } from '../record/journal.ts';
import { grouped } from '../value/grouped.ts';

/** The parts of a record with concurrent work, whose order is open. */
export interface Lanes {
  /** Whether an entry came while, or shortly before or after, more than one call was under way. */
  isShared(entry: HeldEntry): boolean;
  /**
   * Entries in the order in which they began, in groups: entries of one group may come in another order if calls take
   * another time.
   */
  grouped(entries: readonly HeldEntry[]): readonly (readonly HeldEntry[])[];
}

/** From a call that begins while none is under way to the next such one. */
interface Stretch {
  readonly number: number;
  /** How many calls were under way at one time, at most. */
  most: number;
}

/**
 * The lanes of a record. Only calls that take a while make lanes: a call that returns at once is over before anything
 * else begins. A call right after the last one of a lane may still belong to it.
 */
export function lanesIn(events: readonly RecordedEvent[]): Lanes {
  const stretches = new Map<HeldEntry, Stretch>();
  let stretch: Stretch = { number: 0, most: 0 };
  let count = 0;
  for (const { entry, end } of events) {
    const isWork = takesAWhile(entry);
    if (isWork && count === 0) stretch = { number: stretch.number + 1, most: 0 };
    if (!end) stretches.set(entry, stretch);
    if (!isWork) continue;
    count += end ? -1 : 1;
    stretch.most = Math.max(stretch.most, count);
  }
  const isShared = (entry: HeldEntry) => (stretches.get(entry)?.most ?? 0) > 1;
  return {
    isShared,
    grouped: (entries) => [
      ...grouped(entries, (entry) =>
        isShared(entry) ? (stretches.get(entry)?.number ?? entry.id) : -entry.id,
      ).values(),
    ],
  };
}

/** Whether a call is over only after other things may have begun. */
function takesAWhile({ outcome }: HeldEntry): boolean {
  return outcome.state !== 'returned' && outcome.state !== 'threw';
}
