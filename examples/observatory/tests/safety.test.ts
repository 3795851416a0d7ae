import { call, check, deferred, during, gave, gives, inFlight, inTurn, leadsTo, never, not, plan, rejects, settled } from 'ekkon';
import { test } from 'ekkon/vitest';
import { describe, expect } from 'vitest';
import { NightRun, stageNight, type Target, targets } from '../src/index.ts';

/** Safety by order: what must hold on any night, and a mistake that breaks each of it. */
describe('no exposure between rain and clear', () => {
  class IgnoresRain extends NightRun {
    protected override async photograph(all: readonly Target[], stored: string[]): Promise<'done'> {
      for (const target of all) {
        this.devices.weather.rain();
        stored.push(await this.photographOne(target));
      }
      return 'done';
    }
  }

  test.for([
    ['a night run that stops', NightRun, ''],
    ['one that goes on', IgnoresRain, 'never camera.expose during gave weather.rain → not(0) › gave weather.rain → 0: 1 call; the first is #'],
  ] as const)('%s', async ([, Run, report], { ledger }) => {
    const { devices } = stageNight(ledger);
    plan(call(devices.weather.rain), gives(0), gives(0), gives(2.5), gives(0));
    await new Run(devices).run(targets);

    const rain = call(devices.weather.rain);
    const dry = during({ from: gave(rain, not(0)), until: gave(rain, 0) }, never(call(devices.camera.expose)));
    if (report === '') check(dry);
    else expect(() => check(dry)).toThrow(report);
  });
});

describe('at most two frames in flight to the archive', () => {
  class Floods extends NightRun {
    protected override async photographOne({ at, seconds, filter }: Target): Promise<string> {
      const { camera, archive } = this.devices;
      void archive.store(await camera.expose({ seconds, filter, at }));
      return 'on its way';
    }
  }

  test.for([
    ['a night run that waits', NightRun, ''],
    ['one that does not', Floods, 'in flight 0..2 archive.store: 4 under way at tick'],
  ] as const)('%s', async ([, Run, report], { ledger }) => {
    const { devices } = stageNight(ledger);
    const stored = deferred<string>();
    if (Run === Floods) plan(call(devices.archive.store), stored);
    await new Run(devices).run([...targets, ...targets]);

    const few = inFlight('0..2', call(devices.archive.store));
    if (report === '') check(few);
    else expect(() => check(few)).toThrow(report);
    stored.fulfil('kept');
  });
});

test.for(['slewTo', 'park'] as const)('the dome is closed last, whatever fails: %s', async (failing, { ledger }) => {
  const { devices } = stageNight(ledger);
  const { dome, mount } = devices;
  plan(call(mount[failing]), rejects(new Error('stuck')));
  await new NightRun(devices).run(targets).catch(() => undefined);
  check(inTurn(call(dome.open), settled(call(mount.park)), call(dome.close)), leadsTo(call(dome.open), call(dome.close)));
});
