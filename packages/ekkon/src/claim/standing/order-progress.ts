import { nextStates, type State, startOf, uniqueStates } from '../order/run-sequence.ts';
import { compileSequence } from '../order/sequence.ts';
import { makeEventReader } from '../order/sequence-events.ts';
import type { HeldOrder } from '../order/steps.ts';
import type { JudgedEntry } from '../pattern.ts';
import type { Progress, Standing } from './standing.ts';

/** A sequence: the states in which its automaton can be, after each event. */
export function followOrder({ tree }: HeldOrder): Progress {
  const sequence = compileSequence(tree);
  const undecided = new Set<JudgedEntry>();
  const read = makeEventReader(sequence, undecided);
  let states: readonly State[] = [startOf(sequence)];
  return {
    get standing(): Standing {
      if (states.length === 0) return 'lost';
      return undecided.size === 0 && states.some(({ expression }) => expression.nullable)
        ? 'holds'
        : 'open';
    },
    take(entry, end) {
      const event = read(entry, end);
      if (event !== undefined)
        states = uniqueStates(states.flatMap((state) => nextStates(sequence, state, event)));
    },
  };
}
