import { printLine } from '../notation/value.ts';
import { copyOf } from '../record/copy.ts';
import { fitOf } from './compare.ts';
import { type Matcher, makeMatcher, makeReference } from './matcher.ts';

/**
 * Accepts this very value: the same object, not one that is equal; of primitives, the same by `Object.is`.
 *
 * @example
 * call(archive.store, [identical(frame)])
 */
export function identical<T>(reference: T): Matcher<T> {
  const matcher: Matcher<T> = makeMatcher<T>({
    family: 'identical',
    parameters: [makeReference(reference)],
    get prints() {
      return `identical(${printLine(reference, { items: 8 })})`;
    },
    differences(recorded, context) {
      const original = isObject(recorded) ? (context.originalOf(recorded) ?? recorded) : recorded;
      if (Object.is(original, reference)) return [];
      const alike = isObject(recorded) && fitOf(copyOf(reference), recorded, context) === 'fits';
      return [
        {
          path: [],
          kind: 'changed',
          claimed: matcher,
          recorded,
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
