import type { EventClass, Expression } from './expression.ts';
import type { Sequence } from './sequence.ts';

/** States looked at before nothing is said. */
const statesAllowed = 2_000;

/**
 * Whether a sequence allows everything: every state reached by its leaves, taken one at a time, and by any
 * beginning on a watched double, allows the end. It may miss some that do, and accuses none falsely: an event
 * that fits several leaves at once has at least the places that it has by one of them; and as every leaf can be
 * taken at any time, an end that belongs to a beginning finds that it was.
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
