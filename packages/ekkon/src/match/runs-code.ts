import { isOwn } from '../value/prints-as.ts';
import { matchingOf } from './matcher.ts';

/** How many parts of an expected value are looked at. */
const partsMost = 2_000;

/**
 * Whether comparing with an expected value may run foreign code, whose result may differ the next time. A value too
 * large to search counts as such.
 */
export function runsCode(expected: unknown): boolean {
  const seen = new Set<object>();
  const runs = (value: unknown): boolean => {
    if (typeof value !== 'object' || value === null || seen.has(value)) return false;
    if (seen.add(value).size > partsMost) return true;
    const matching = matchingOf(value);
    if (matching?.asks === true) return true;
    if (matching !== undefined) return matching.parameters.some(runs);
    if (isOwn(value)) return false;
    if (value instanceof Map) return [...value].flat().some(runs);
    if (value instanceof Set) return [...value].some(runs);
    return Object.values(value).some(runs);
  };
  return runs(expected);
}
