import type { Devices, Frame } from './devices.ts';
import { NightRun, type Target } from './night-run.ts';
import { watchRain } from './rain-watch.ts';
import type { RainWatch } from './staged-rain.ts';

/** Puts a mistake into a night run. */
type Mistake = (Night: typeof NightRun) => typeof NightRun;

/** A mistake that can be switched on in a night run, as somebody might make it. */
export interface Fault {
  readonly name: string;
  /** The mistake in a few words. */
  readonly mistake: string;
  readonly into: Mistake;
}

/** A night run with mistakes in it; of two that are in one place the later counts. */
export function nightWith(mistakes: readonly Fault[], devices: Devices): NightRun {
  const Night = mistakes.reduce((Sound, { into }) => into(Sound), NightRun);
  return new Night(devices);
}

const domeLeftOpen: Mistake = (Night) =>
  class extends Night {
    protected override async shut(): Promise<void> {
      await this.devices.mount.park();
    }
  };

const opensTwice: Mistake = (Night) =>
  class extends Night {
    protected override prepare(): void {
      this.devices.dome.open();
      super.prepare();
    }
  };

const swapsCoordinates: Mistake = (Night) =>
  class extends Night {
    protected override async photographOne({ at, seconds, filter }: Target): Promise<string> {
      const { mount, camera, archive } = this.devices;
      await mount.slewTo(at.dec, at.ra);
      return await archive.store(await camera.expose({ seconds, filter, at }));
    }
  };

const storesAside: Mistake = (Night) =>
  class extends Night {
    protected override async photographOne({ at, seconds, filter }: Target): Promise<string> {
      const { mount, camera, archive } = this.devices;
      await mount.slewTo(at.ra, at.dec);
      return await archive.setAside(await camera.expose({ seconds, filter, at }));
    }
  };

const forgetsDeclination: Mistake = (Night) =>
  class extends Night {
    protected override async photographOne({ at, seconds, filter }: Target): Promise<string> {
      const { mount, camera, archive } = this.devices;
      await mount.slewTo(at.ra, at.dec);
      const frame = await camera.expose({ seconds, filter, at: { ...at, dec: 0 } });
      return await archive.store(frame);
    }
  };

/** A way to the camera whose type says that it waits. */
type LooselyTyped = (...exposure: Parameters<Devices['camera']['expose']>) => Frame;

const frameNotAwaited: Mistake = (Night) =>
  class extends Night {
    protected override async photographOne({ at, seconds, filter }: Target): Promise<string> {
      const { mount, camera, archive } = this.devices;
      await mount.slewTo(at.ra, at.dec);
      const frame = (camera.expose as unknown as LooselyTyped)({ seconds, filter, at });
      return await archive.store(frame);
    }
  };

const stopsEarly: Mistake = (Night) =>
  class extends Night {
    protected override async photograph(
      targets: readonly Target[],
      stored: string[],
    ): Promise<'done' | 'rain'> {
      return await super.photograph(targets.slice(0, -1), stored);
    }
  };

const criesWolf: Mistake = (Night) =>
  class extends Night {
    protected override async shut(): Promise<void> {
      await super.shut();
      this.devices.alarm.sound('night over');
    }
  };

const exposesWhileSlewing: Mistake = (Night) =>
  class extends Night {
    protected override async photographOne({ at, seconds, filter }: Target): Promise<string> {
      const { mount, camera, archive } = this.devices;
      const slewed = mount.slewTo(at.ra, at.dec);
      const frame = await camera.expose({ seconds, filter, at });
      await slewed;
      return await archive.store(frame);
    }
  };

const shutsTooEarly: Mistake = (Night) =>
  class extends Night {
    protected override async shut(): Promise<void> {
      this.devices.dome.close();
      await this.devices.mount.park();
    }
  };

/** The mistakes that can be switched on. */
export const faults: readonly Fault[] = [
  {
    name: 'dome-left-open',
    mistake: 'the dome is not closed: a call is missing',
    into: domeLeftOpen,
  },
  {
    name: 'opens-twice',
    mistake: 'the dome is opened twice',
    into: opensTwice,
  },
  {
    name: 'coordinates-swapped',
    mistake: 'the mount gets declination first: a wrong argument',
    into: swapsCoordinates,
  },
  {
    name: 'stored-aside',
    mistake: 'frames go to another member of the archive',
    into: storesAside,
  },
  {
    name: 'declination-lost',
    mistake: 'one field deep in the exposure is wrong',
    into: forgetsDeclination,
  },
  {
    name: 'frame-not-awaited',
    mistake: 'a promise is passed on where its frame should be',
    into: frameNotAwaited,
  },
  {
    name: 'stops-early',
    mistake: 'the last target is left out',
    into: stopsEarly,
  },
  {
    name: 'cries-wolf',
    mistake: 'the alarm sounds though nothing is wrong',
    into: criesWolf,
  },
  {
    name: 'exposes-while-slewing',
    mistake: 'the camera exposes while the mount still moves',
    into: exposesWhileSlewing,
  },
  {
    name: 'shuts-too-early',
    mistake: 'the dome closes before the mount is parked',
    into: shutsTooEarly,
  },
];

/** A rain watch with one mistake in it. */
export interface RainFault {
  readonly name: string;
  /** The mistake in a few words. */
  readonly mistake: string;
  readonly watch: RainWatch;
}

/** The mistakes that can be switched on in watching the rain. */
export const rainFaults: readonly RainFault[] = [
  {
    name: 'park-not-awaited',
    mistake: 'the dome closes while the mount still moves',
    watch: (readings, devices) => {
      const park = async () => void devices.mount.park();
      return watchRain(readings, { ...devices, mount: { ...devices.mount, park } });
    },
  },
  {
    name: 'drizzle-ignored',
    mistake: 'a drop is taken for dew, and nothing is closed',
    watch: async (readings, devices) => {
      const heavy = new TransformStream<number, number>({
        transform: (rain, onward) => onward.enqueue(Math.floor(rain)),
      });
      await watchRain(readings.pipeThrough(heavy), devices);
    },
  },
];
