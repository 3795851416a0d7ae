import type { Devices, Exposure, Position } from './devices.ts';

/** A star to be photographed, and how. */
export interface Target {
  readonly star: string;
  readonly at: Position;
  readonly seconds: number;
  readonly filter: Exposure['filter'];
}

/** How a night ended. */
export interface NightResult {
  readonly stored: readonly string[];
  readonly ended: 'done' | 'rain' | 'fault';
}

/** Degrees Celsius at which the camera is used. */
const workingTemperature = -20;

/**
 * Runs a night: opens the dome, photographs one target after the other, stores the frames, and closes
 * whatever happens. Nothing opens while it rains, and rain ends the night.
 */
export class NightRun {
  protected readonly devices: Devices;

  constructor(devices: Devices) {
    this.devices = devices;
  }

  async run(targets: readonly Target[]): Promise<NightResult> {
    const { nightLog, weather } = this.devices;
    nightLog.write('night begins', { targets: targets.length });
    if (weather.rain() > 0) {
      nightLog.write('night called off', { because: 'rain' });
      return { stored: [], ended: 'rain' };
    }
    const stored: string[] = [];
    try {
      this.prepare();
      return { stored, ended: await this.photograph(targets, stored) };
    } catch (error) {
      this.raiseAlarm(error);
      return { stored, ended: 'fault' };
    } finally {
      await this.shut();
      nightLog.write('night ends', { stored: stored.length });
    }
  }

  protected prepare(): void {
    this.devices.dome.open();
    this.devices.camera.cool(workingTemperature);
  }

  protected async photograph(
    targets: readonly Target[],
    stored: string[],
  ): Promise<'done' | 'rain'> {
    for (const target of targets) {
      if (this.devices.weather.rain() > 0) return 'rain';
      stored.push(await this.photographOne(target));
    }
    return 'done';
  }

  /** Points at a target, exposes, and stores the frame; gives the address it is kept under. */
  protected async photographOne({ at, seconds, filter }: Target): Promise<string> {
    const { mount, camera, archive } = this.devices;
    await mount.slewTo(at.ra, at.dec);
    const frame = await camera.expose({ seconds, filter, at });
    return await archive.store(frame);
  }

  protected raiseAlarm(error: unknown): void {
    this.devices.alarm.sound(error instanceof Error ? error.message : String(error));
  }

  protected async shut(): Promise<void> {
    try {
      await this.devices.mount.park();
    } finally {
      this.devices.dome.close();
    }
  }
}
