import type { NightLog } from './devices.ts';

/** A sensor that says in a callback how far the star has drifted, in arc seconds. */
export interface GuideSensor {
  measure(done: (error: Error | undefined, drift?: number) => void): void;
}

/** Measures the drift once; a sensor that fails is noted, and counts as no drift. */
export function measureDrift(sensor: GuideSensor, log: NightLog): Promise<number> {
  return new Promise((resolve) => {
    sensor.measure((error, drift = 0) => {
      if (error !== undefined) log.write('guiding lost', error.message);
      resolve(error === undefined ? drift : 0);
    });
  });
}
