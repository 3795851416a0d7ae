/** What the examples of the documentation have at hand: see docs/README.md. */
import type { Ledger } from 'ekkon';
import { type Devices, NightRun, targets } from 'observatory';

export type * from '../../../examples/observatory/src/devices.ts';
export { CoverMotor, DomeKeeper, motors, NightRun, openCover, type Station } from '../../../examples/observatory/src/index.ts';

/** A gauge that hides what it has read. */
export class Gauge {
  readonly #celsius: number;
  constructor(celsius: number) {
    this.#celsius = celsius;
  }
  read(): number {
    return this.#celsius;
  }
}

/** A keeper with a method that the types call private. */
export class SafeKeeper {
  tend(): boolean {
    return this.isSafe();
  }
  private isSafe(): boolean {
    return true;
  }
}

/** The stand-ins of a ledger, and a night run on them. */
export function atHand(ledger: Ledger) {
  const devices = ledger.standIns<Devices>();
  const { dome, mount, camera, weather, archive, alarm, nightLog } = devices;
  const all = { dome, mount, camera, weather, archive, alarm, nightLog };
  return { ...all, night: new NightRun(all), targets };
}
