import { printClaimed } from '../notation/value.ts';
import { copyClaimed } from '../value/claimed-copy.ts';
import { isGap } from '../value/gap.ts';
import { takesOnly } from '../value/takes-only.ts';
import { fitOf } from './compare.ts';
import { type Matcher, makeMatcher, makeReference } from './matcher.ts';
import { sourceOf } from './source-of.ts';

/**
 * Accepts this very object, and no equal one. Primitives are compared by `Object.is`.
 *
 * @example
 * const frame = { id: 'frame-1', seconds: 30 };
 * await archive.store(frame);
 * check(once(call(archive.store, [identical(frame)])));
 */
export function identical<T>(reference: T): Matcher<T> {
  takesOnly(1, arguments, identical);
  const matcher: Matcher<T> = makeMatcher<T>({
    family: 'identical',
    takesGaps: true,
    parameters: [makeReference(reference)],
    get prints() {
      return `identical(${printClaimed(reference)})`;
    },
    differences(received, context) {
      const original = isObject(received) ? sourceOf(received, context) : received;
      if (Object.is(original, reference)) return [];
      if (isGap(received) && received.source === undefined)
        return [{ path: [], kind: 'opaque', expected: matcher, received, why: received.gap }];
      const alike =
        isObject(received) && fitOf(copyClaimed(reference), received, context) === 'fits';
      return [
        {
          path: [],
          kind: 'changed',
          expected: matcher,
          received,
          ...(alike ? { why: 'identity' as const } : {}),
        },
      ];
    },
  });
  return matcher;
}

function isObject(value: unknown): value is object {
  return typeof value === 'object' && value !== null;
}
