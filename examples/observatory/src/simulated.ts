import type { Devices, Frame } from './devices.ts';

export interface SimulationOptions {
  /** How many times faster than real devices the simulated ones are. Default 1. */
  readonly speed?: number;
  /** Rain in millimetres an hour, as the weather station reads it in turn; the last value holds. */
  readonly rain?: readonly number[];
}

/** Milliseconds that the devices take at speed 1. */
const slewTime = 1_200;
const parkTime = 800;
const storeTime = 300;

/**
 * Devices that take time as real ones do: slewing, exposing and storing end later. The dome refuses to
 * open twice, and the camera to expose while the mount moves.
 */
export function simulateDevices({ speed = 1, rain = [0] }: SimulationOptions = {}): Devices {
  const state = { open: false, moving: false, frames: 0, readings: 0 };
  const wait = (milliseconds: number) =>
    new Promise<void>((resolve) => setTimeout(resolve, milliseconds / speed));
  const move = async (milliseconds: number) => {
    state.moving = true;
    await wait(milliseconds);
    state.moving = false;
  };
  return {
    dome: {
      open() {
        if (state.open) throw new Error('the dome is open already');
        state.open = true;
      },
      close() {
        state.open = false;
      },
    },
    mount: {
      slewTo: () => move(slewTime),
      park: () => move(parkTime),
    },
    camera: {
      cool() {},
      async expose({ seconds }): Promise<Frame> {
        if (state.moving) throw new Error('the mount is moving');
        await wait(seconds * 20);
        state.frames++;
        return { id: `frame-${state.frames}`, seconds };
      },
    },
    weather: {
      rain: () => rain[Math.min(state.readings++, rain.length - 1)] ?? 0,
    },
    archive: {
      async store({ id }) {
        await wait(storeTime);
        return `kept/${id}`;
      },
      async setAside({ id }) {
        await wait(storeTime);
        return `aside/${id}`;
      },
    },
    alarm: { sound() {} },
    nightLog: { write() {} },
  };
}
