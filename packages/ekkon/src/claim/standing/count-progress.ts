import { type HeldCountClaim, inRange } from '../count.ts';
import { callsOf, eventFit, isEnd } from '../event.ts';
import type { JudgedEntry } from '../pattern.ts';
import { entryFit } from '../pattern.ts';
import type { Progress, Standing } from './standing.ts';

/** A count, counted as the events come. Where it cannot be told of some, it holds if it does either way. */
export function followCount({ held, range }: HeldCountClaim): Progress {
  if (isEnd(held) && held.of === 'unfinished') return followUnfinished({ held, range });
  let [sure, unsure] = [0, 0];
  return {
    get standing(): Standing {
      if (sure > range.most) return 'lost';
      return inRange(range, sure) && inRange(range, sure + unsure) ? 'holds' : 'open';
    },
    take(entry, end) {
      if (end !== isEnd(held)) return;
      const fit = eventFit(held, entry);
      if (fit === 'fits') sure++;
      else if (fit === 'undecided') unsure++;
    },
  };
}

/** Calls that have begun and not ended: the count falls again, so that it is never lost. */
function followUnfinished({ held, range }: Pick<HeldCountClaim, 'held' | 'range'>): Progress {
  const underWay = new Set<JudgedEntry>();
  const unsure = new Set<JudgedEntry>();
  return {
    get standing(): Standing {
      const least = underWay.size;
      return inRange(range, least) && inRange(range, least + unsure.size) ? 'holds' : 'open';
    },
    take(entry, end) {
      if (end) {
        underWay.delete(entry);
        unsure.delete(entry);
        return;
      }
      const fit = entryFit(callsOf(held), entry);
      if (fit === 'fits') underWay.add(entry);
      else if (fit === 'undecided') unsure.add(entry);
    },
  };
}
