import { claimedOriginal } from '../value/claimed-copy.ts';
import { isPrimitive } from '../value/is-primitive.ts';
import { isSnapshot } from '../value/snapshot.ts';
import { noContext, Walk } from './compare.ts';
import { isReference, type MatcherParts, matchingOf } from './matcher.ts';

/**
 * Whether two expected values say the same: plain data and the platform's values by content, Ekkon's own
 * matchers by family and parameters, anything else by reference. How they print does not matter.
 */
export function sameValue(one: unknown, other: unknown): boolean {
  if (Object.is(one, other) || (one === 0 && other === 0)) return true;
  if (isPrimitive(one) || isPrimitive(other)) return false;
  if (typeof one === 'function' || typeof other === 'function') return false;
  if (isReference(one) && isReference(other)) return Object.is(one.reference, other.reference);
  const [matching, another] = [matchingOf(one), matchingOf(other)];
  if (matching === undefined && another === undefined) {
    // A literal matches an instance, but not the other way round: equal values match both ways.
    return saysAll(one, other) && saysAll(other, one);
  }
  return (
    matching?.family === another?.family &&
    sameValues(matching?.parameters ?? [], another?.parameters ?? [])
  );
}

/** Whether two lists of expected values say the same. */
export function sameValues(ones: readonly unknown[], others: readonly unknown[]): boolean {
  return ones.length === others.length && ones.every((one, at) => sameValue(one, others[at]));
}

function saysAll(one: unknown, other: unknown): boolean {
  const walk = new SameWalk(noContext, 1);
  walk.walk(one, other);
  return walk.fit === 'fits';
}

/** Holds two expected values against each other: a matcher in the one is a value, and not asked about the other. */
class SameWalk extends Walk {
  override missing(key: PropertyKey, expected: unknown): void {
    this.add('missing', expected, undefined, { path: [...this.path, key] });
  }

  protected override part(): Walk {
    return new SameWalk(this.context, 1, this);
  }

  protected override behind(expected: object): unknown {
    return isSnapshot(expected) ? expected.of : claimedOriginal(expected);
  }

  protected override matcher(_: MatcherParts, expected: object, received: unknown): void {
    if (!sameValue(expected, received)) this.add('changed', expected, received);
  }
}
