import { platformClock } from '../record/clock.ts';
import { isStreamed } from '../record/entry.ts';
import { entryData } from '../record/entry-data.ts';
import { eventsOf } from '../record/events.ts';
import type { Journal } from '../record/journal.ts';
import { isMark } from '../record/mark.ts';
import { intrinsics } from '../value/intrinsics.ts';
import type { Waited } from './finding.ts';

/** The last event of a record, and how long ago it was: not known if the ledger has a clock of its own. */
export function lastEvent(journal: Journal): Waited['last'] {
  const events = eventsOf(journal);
  for (let at = events.length - 1; at >= 0; at--) {
    const held = events[at];
    if (held === undefined || isMark(held)) continue;
    const entry = entryData(held);
    // An item of a stream ends when it begins.
    const end = held.began !== at + 1 && !isStreamed(held.kind);
    const when = (end ? entry.at.ended : entry.at.began) ?? entry.at.began;
    const isWallTime = journal.clock === platformClock;
    return { entry, end, ago: isWallTime ? intrinsics.Date.now() - when : undefined };
  }
  return undefined;
}
