import { matchingOf } from './matcher.ts';

/** Whether the matchers of all items met only empty lists, or others as well. */
const askedAbout = new WeakMap<object, 'empty' | 'filled'>();
let isAnyEmpty = false;

/** Notes how long the list was that a matcher of all items was asked about. */
export function noteSize(matcher: object, size: number): void {
  if (size > 0) askedAbout.set(matcher, 'filled');
  else if (!askedAbout.has(matcher)) {
    askedAbout.set(matcher, 'empty');
    isAnyEmpty = true;
  }
}

/** A matcher of all items, at any depth of an expected value, that was asked about nothing but empty lists. */
export function emptyIn(expected: unknown, depth = 0): object | undefined {
  if (!isAnyEmpty || typeof expected !== 'object' || expected === null || depth > 8)
    return undefined;
  if (askedAbout.get(expected) === 'empty') return expected;
  const inside = matchingOf(expected)?.parameters ?? Object.values(expected);
  for (const part of inside) {
    const found = emptyIn(part, depth + 1);
    if (found !== undefined) return found;
  }
  return undefined;
}
