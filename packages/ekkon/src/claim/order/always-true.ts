import type { EventClass, Expression } from './expression.ts';
import type { Sequence } from './sequence.ts';

/** States looked at before nothing is said. */
const statesAllowed = 2_000;

/**
 * Whether a sequence allows everything: every state reached by its leaves, taken one at a time, and by any
 * beginning on a watched double, allows the end. It may miss such a sequence, but has no false positives: an event
 * that matches several leaves has at least the places that it has by one of them, and since every leaf can be taken
 * at any time, the beginning that an end belongs to has been taken.
 */
export function isAlwaysTrue({ expressions, start, alone, watched, classFor }: Sequence): boolean {
  const steps: readonly EventClass[] = [
    ...alone,
    ...[...watched].map((double) => classFor([], double)),
  ];
  const seen = new Set<Expression>([start]);
  for (const state of seen) {
    if (!state.nullable || seen.size > statesAllowed) return false;
    for (const step of steps) {
      const goesBy = step.leaves.size === 0;
      const left = goesBy ? expressions.pass(state, step) : expressions.derive(state, step);
      if (left === expressions.fail) return false;
      seen.add(left);
    }
  }
  return true;
}
