import { anyEndOf, callsOf, type HeldEvent, isAtEnd, isEnd } from '../../pattern/event.ts';
import { callsFit } from '../../pattern/fit.ts';
import type { ClaimParts } from '../parts.ts';
import { isAlwaysTrue } from './always-true.ts';
import { explainOrder } from './explain-order.ts';
import { canFinish } from './expression.ts';
import type { Sequence } from './sequence.ts';
import {
  accepts,
  forget,
  nextOf,
  type SequenceState,
  sameStates,
  startOf,
} from './sequence-state.ts';
import { eventsIn, sameStep } from './step-tree.ts';
import { type HeldOrder, printStep } from './steps.ts';

/** The states in which a sequence's automaton can be: none once an event has found no place. */
export const orderParts: ClaimParts<HeldOrder, readonly SequenceState[]> = {
  hears(claim) {
    const { leaves, watched } = claim.sequence();
    return {
      events: [...leaves, ...endsToForget(claim.sequence())],
      ...(watched.size === 0 ? {} : { beginnings: ({ double }) => watched.has(double) }),
    };
  },
  patternAt: (claim, number) => claim.sequence().leaves[number],
  wants(claim, found) {
    if (found.code !== 'outOfOrder') return [];
    const { leaves } = claim.sequence();
    return found.problems.flatMap((problem) => {
      const event = problem.kind === 'surplus' ? undefined : leaves[problem.leaf];
      return event === undefined ? [] : [{ event, missing: 1 }];
    });
  },
  start: (claim) => startOf(claim.sequence()),
  take(claim, states, event) {
    // In a stretch, the end of a call that began before it has no place to be in.
    if (event.end && event.before) return states;
    const sequence = claim.sequence();
    if (sequence.remembered.size === 0) return nextOf(sequence, states, event);
    const fits = event.fits.filter((at) => at < sequence.leaves.length);
    if (event.end && fits.length === 0) return forget(states, event.entry.id);
    return nextOf(sequence, states, fits.length === event.fits.length ? event : { ...event, fits });
  },
  same: (_, one, other) => sameStates(one, other),
  bucket: (_, states) => states[0]?.expression,
  stands: (_, states) => (states.length === 0 ? 'lost' : accepts(states) ? 'holds' : 'open'),
  hopes(claim, states, isAlive) {
    const { leaves } = claim.sequence();
    const isLeafAlive = (leaf: number) => {
      const event = leaves[leaf];
      return event !== undefined && isAlive(event);
    };
    return states.some(({ expression }) => canFinish(expression, isLeafAlive));
  },
  absent: untouchedIn,
  mindsBeginnings: (claim) => claim.sequence().leaves.some(isAtEnd),
  explain: explainOrder,
  uses: ({ tree }) => eventsIn(tree),
  canComeTrue: () => true,
  canBreak: () => true,
  holdsOfNothing: () => false,
  isAlwaysTrue: (claim) => isAlwaysTrue(claim.sequence()),
  equal: (one, other) => sameStep(one.tree, other.tree),
  print: ({ tree }) => `in turn ${printStep(tree)}`,
};

/** The first step of a sequence of which no step came at all: it holds because all of them may be left out. */
function untouchedIn(claim: HeldOrder, states: readonly SequenceState[]): HeldEvent | undefined {
  if (!sameStates(states, startOf(claim.sequence()))) return undefined;
  const events = eventsIn(claim.tree);
  const { entries } = claim.journal;
  const isMet = events.some((event) => {
    const calls = callsOf(event);
    return entries.some((entry) => callsFit(calls, entry) === 'fits');
  });
  return isMet ? undefined : events[0];
}

/** Ends however they come, of the calls whose beginnings some end has to know of: after them, nothing has. */
function endsToForget({ leaves, remembered }: Sequence): readonly HeldEvent[] {
  return leaves.flatMap((leaf, at) => (isEnd(leaf) || !remembered.has(at) ? [] : [anyEndOf(leaf)]));
}
