import { editDistance, nearText } from './near-text.ts';

/** The name that is likely meant by another one; `undefined` if none is near. */
export function nearestName(given: string, names: readonly string[]): string | undefined {
  return names
    .filter((name) => nearText(name, given))
    .sort((one, other) => editDistance(one, given) - editDistance(other, given))[0];
}
