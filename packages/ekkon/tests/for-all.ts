import fc from 'fast-check';

type Made<Values extends readonly unknown[]> = { readonly [At in keyof Values]: fc.Arbitrary<Values[At]> };

/** Runs a function on random values, as often as told: no run may throw. Each run that throws is made as small as can be. */
export function forAll<Values extends [unknown, ...unknown[]]>(
  runs: number,
  ...made: [...values: Made<Values>, run: (...values: Values) => void]
): void {
  fc.assert(fc.property(...made), { numRuns: runs });
}

export function forAllAsync<Values extends [unknown, ...unknown[]]>(
  runs: number,
  ...made: [...values: Made<Values>, run: (...values: Values) => Promise<void>]
): Promise<void> {
  return fc.assert(fc.asyncProperty(...made), { numRuns: runs });
}
