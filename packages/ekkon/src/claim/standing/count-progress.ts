import { type HeldCountClaim, inRange } from '../count.ts';
import { callsOf, isEnd } from '../event.ts';
import type { Range } from '../multiplicity.ts';
import type { JudgedEntry } from '../pattern.ts';
import { entryFit } from '../pattern.ts';
import { makeTally, type Tally } from '../tally.ts';
import type { Progress, Standing } from './standing.ts';

/** A count, counted as the events come. */
export function followCount({ held, range }: HeldCountClaim): Progress {
  if (isEnd(held) && held.of === 'unfinished') return followUnfinished({ held, range });
  const tally = makeTally(held);
  return {
    get standing() {
      return countStanding(range, tally);
    },
    take: tally.take,
  };
}

/** How a count stands. Where it cannot be told of some, it holds if it does either way. */
export function countStanding(
  range: Range,
  { sure, unsure }: Pick<Tally, 'sure' | 'unsure'>,
): Standing {
  if (sure > range.most) return 'lost';
  return inRange(range, sure) && inRange(range, sure + unsure) ? 'holds' : 'open';
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
