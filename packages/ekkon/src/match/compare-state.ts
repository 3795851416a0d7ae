import type { Kind } from '../value/kind.ts';
import { bytesOf, dateTime, flagsOf, regexpSource, unboxed } from '../value/slots.ts';
import { compareProperties } from './compare-properties.ts';
import type { Comparison } from './comparison.ts';

/** Compares what values of the platform's types hold in their slots, then their own properties. */
export function compareState(
  comparison: Comparison,
  kind: Kind,
  claimed: object,
  recorded: object,
): void {
  switch (kind) {
    case 'typed':
      compareItems(comparison, claimed as ArrayLike<unknown>, recorded as ArrayLike<unknown>);
      return;
    case 'buffer':
    case 'view':
      compareItems(comparison, bytesOf(claimed), bytesOf(recorded));
      break;
    case 'error':
      compareProperties(comparison, claimed, recorded, 'all');
      return;
    default:
      if (!Object.is(stateOf(kind, claimed), stateOf(kind, recorded))) {
        comparison.add('changed', claimed, recorded);
        return;
      }
  }
  compareProperties(comparison, claimed, recorded);
}

/** One primitive that says all a value of the kind holds. */
function stateOf(kind: Kind, value: object): unknown {
  switch (kind) {
    case 'date':
      return dateTime.call(value);
    case 'regexp':
      return `/${regexpSource.call(value)}/${flagsOf(value)} from ${(value as RegExp).lastIndex}`;
    case 'boxed': {
      const held = unboxed(value);
      return held === 0 ? 0 : held;
    }
    default:
      throw new TypeError(`a ${kind} has no such state`);
  }
}

/** Places that differ and are listed one by one. */
const placesListed = 20;

function compareItems(
  comparison: Comparison,
  claimed: ArrayLike<unknown>,
  recorded: ArrayLike<unknown>,
): void {
  const length = Math.max(claimed.length, recorded.length);
  let listed = 0;
  for (let at = 0; at < length && listed < placesListed; at++) {
    const [one, other] = [claimed[at], recorded[at]];
    if (one === other || (Number.isNaN(one) && Number.isNaN(other))) continue;
    if (at >= recorded.length) comparison.missing(at, one);
    else if (at >= claimed.length) comparison.surplus(at, other);
    else comparison.below(at, one, other);
    listed++;
  }
}
