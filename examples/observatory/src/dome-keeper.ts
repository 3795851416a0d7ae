import type { Dome, NightLog } from './devices.ts';

/** A weather station that is asked now and then. */
export interface Station {
  /** Rain in millimetres an hour. */
  rain(): number;
  /** Wind in metres a second. */
  wind(): number;
  /** How steady the air is, in arc seconds; less is better. */
  seeing(): number;
}

/** Metres a second from which on the dome stays shut. */
const strongWind = 12;

/** Opens and closes the dome according to the weather, and writes failures to the night log. */
export class DomeKeeper {
  private readonly dome: Dome;
  private readonly station: Station;
  private readonly log: NightLog;

  constructor(dome: Dome, station: Station, log: NightLog) {
    if (dome === undefined || station === undefined) {
      throw new TypeError('a dome keeper needs a dome and a weather station');
    }
    this.dome = dome;
    this.station = station;
    this.log = log;
  }

  /** Reads the weather once, and acts on it. */
  tend(): void {
    try {
      if (this.isSafe()) this.dome.open();
      else this.dome.close();
    } catch (error) {
      this.log.write('dome not moved', error instanceof Error ? error.message : String(error));
    }
  }

  /** The mean of three readings of the seeing, each held between 0.3 and 8 arc seconds. */
  seeing(): number {
    const readings = [1, 2, 3].map(() => this.station.seeing());
    const held = readings.map((reading) => Math.min(8, Math.max(0.3, reading)));
    return held.reduce((sum, reading) => sum + reading, 0) / held.length;
  }

  private isSafe(): boolean {
    return this.station.rain() === 0 && this.station.wind() < strongWind;
  }
}
