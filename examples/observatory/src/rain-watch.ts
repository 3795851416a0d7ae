import type { Alarm, Dome, Mount, NightLog } from './devices.ts';

/** The devices of a rain watch. */
export interface RainWatchDevices {
  readonly dome: Dome;
  readonly mount: Mount;
  readonly alarm: Alarm;
  readonly nightLog: NightLog;
}

/**
 * Watches the rain sensor for a night: parks the mount and then closes the dome with the first drop, and does
 * the same where the sensor fails.
 *
 * @param readings rain in millimetres an hour, as the sensor sends it
 */
export async function watchRain(
  readings: ReadableStream<number>,
  { dome, mount, alarm, nightLog }: RainWatchDevices,
): Promise<void> {
  const reader = readings.getReader();
  try {
    for (;;) {
      const { done, value: rain } = await reader.read();
      if (done) return;
      if (rain === 0) continue;
      nightLog.write('rain', { rain });
      return await shut();
    }
  } catch (error) {
    alarm.sound(error instanceof Error ? error.message : String(error));
    await shut();
  } finally {
    reader.releaseLock();
  }

  async function shut(): Promise<void> {
    try {
      await mount.park();
    } finally {
      dome.close();
    }
  }
}
