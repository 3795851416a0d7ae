import { isGap } from '../value/gap.ts';
import { isSnapshot } from '../value/snapshot.ts';
import type { Context } from './matcher.ts';

/** The object behind a part of a received copy; `undefined` if it is unknown. */
export function sourceOf(received: object, context: Context): unknown {
  if (isSnapshot(received)) return received.of;
  if (isGap(received)) return received.source;
  return context.originalOf(received) ?? received;
}
