import { eventFit, type HeldEvent, isEnd } from '../event.ts';
import type { JudgedEntry } from '../pattern.ts';
import type { HeldPrecedence } from '../precedence.ts';
import type { Progress, Standing } from './standing.ts';

/** `leadsTo`: open as long as a cause has no later effect. `onlyAfter`: lost with the first that came too early. */
export function followPrecedence({ claim, needing, needed }: HeldPrecedence): Progress {
  let [seen, owed, lost] = [false, false, false];
  return {
    get standing(): Standing {
      if (lost) return 'lost';
      return owed ? 'open' : 'holds';
    },
    take(entry, end) {
      const isNeeded = occurs(needed, entry, end);
      const isNeeding = occurs(needing, entry, end);
      if (claim === 'onlyAfter') {
        lost ||= isNeeding && !seen;
        seen ||= isNeeded;
        return;
      }
      if (isNeeded) owed = false;
      // What is its own effect needs one more.
      if (isNeeding) owed = true;
    },
  };
}

function occurs(event: HeldEvent, entry: JudgedEntry, end: boolean): boolean {
  return isEnd(event) === end && eventFit(event, entry) === 'fits';
}
