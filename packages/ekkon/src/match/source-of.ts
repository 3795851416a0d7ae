import { isGap } from '../value/gap.ts';
import { isSnapshot } from '../value/snapshot.ts';
import type { Context } from './matcher.ts';

/** The object that stands behind what is found in a recorded copy; `undefined` if nothing tells. */
export function sourceOf(recorded: object, context: Context): unknown {
  if (isSnapshot(recorded)) return recorded.of;
  if (isGap(recorded)) return recorded.source;
  return context.originalOf(recorded) ?? recorded;
}
