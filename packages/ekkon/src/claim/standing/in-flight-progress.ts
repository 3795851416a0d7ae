import { inRange } from '../count.ts';
import type { HeldInFlight } from '../in-flight.ts';
import { entryFit, type JudgedEntry } from '../pattern.ts';
import type { Progress, Standing } from './standing.ts';

/** The greatest number of calls under way so far. */
export function followInFlight({ calls, range }: HeldInFlight): Progress {
  const underWay = new Set<JudgedEntry>();
  let peak = 0;
  return {
    get standing(): Standing {
      if (peak > range.most) return 'lost';
      return inRange(range, peak) ? 'holds' : 'open';
    },
    take(entry, end) {
      if (end) underWay.delete(entry);
      else if (entryFit(calls, entry) === 'fits') underWay.add(entry);
      peak = Math.max(peak, underWay.size);
    },
  };
}
