import { fitOf } from '../../match/compare.ts';
import type { HeldExactItems } from '../exact-items.ts';
import { contextOf } from '../pattern.ts';
import type { Progress, Standing } from './standing.ts';

/** The items of a stream, held against those claimed one by one. */
export function followItems({ member, items }: HeldExactItems): Progress {
  let met = 0;
  let lost = false;
  return {
    get standing(): Standing {
      if (lost) return 'lost';
      return met === items.length ? 'holds' : 'open';
    },
    take(entry, end) {
      const { label, kind, args } = entry;
      if (end || label !== member.label) return;
      if (kind !== 'item') {
        // Nothing is to come after the end; an item that does come all the same is one too many.
        lost ||= met < items.length;
        return;
      }
      lost ||=
        met >= items.length || fitOf(items[met], args[0], contextOf(entry, member)) !== 'fits';
      met++;
    },
  };
}
