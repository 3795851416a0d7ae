import type { Target } from './night-run.ts';

/** The targets that the examples photograph; the stars are invented. */
export const targets: readonly [Target, Target] = [
  { star: 'Velmira', at: { ra: 83.6, dec: 22 }, seconds: 30, filter: 'red' },
  { star: 'Oskane', at: { ra: 101.3, dec: -16.7 }, seconds: 60, filter: 'clear' },
];
