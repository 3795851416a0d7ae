import { call, check, deferred, fulfils, gives, inTurn, item, never, once, plan, reach, stalls, summary, throws, times } from 'ekkon';
import { test } from 'ekkon/vitest';
import { describe, expect } from 'vitest';
import { type Devices, DomeKeeper, measureDrift, NightRun, stageNight, targets } from '../src/index.ts';

interface Station {
  rain(): number;
}

describe('honest tests of kinds that people write every day pass under the usual rules', () => {
  test('a double only feeds the code, and the test asserts on what comes of it', ({ ledger }) => {
    const { station } = ledger.standIns<{ station: Station }>();
    plan(call(station.rain), gives(0.4), gives(0));
    const read = [station.rain(), station.rain()];
    expect(read).toEqual([0.4, 0]);
  });

  test('a logger is there to be silent', ({ ledger }) => {
    const { dome, station, log } = ledger.standIns<{ dome: Devices['dome']; station: Station; log: Devices['nightLog'] }>();
    plan(call(station.rain), gives(0.4));
    new DomeKeeper(dome, station, log).tend();
    check(once(call(dome.close)));
  });

  test('a shared set-up makes more than one test needs', async ({ ledger }) => {
    const { devices } = stageNight(ledger);
    await new NightRun(devices).run([]);
    check(once(call(devices.dome.close)));
  });

  test('nothing is to happen, and nothing does', async ({ ledger }) => {
    const { devices } = stageNight(ledger);
    await new NightRun(devices).run(targets);
    check(never(call(devices.alarm.sound)), never(call(devices.archive.setAside)));
  });

  test('a double that is not to be touched is claimed not to be', ({ ledger }) => {
    const { alarm, dome } = ledger.standIns<Devices>();
    const isCalm = true;
    if (!isCalm) alarm.sound('rain');
    dome.open();
    check(never(call(alarm.sound)));
  });

  test('a claim is asked for again and again until it holds', async ({ ledger }) => {
    const { dome } = ledger.standIns<Devices>();
    setTimeout(() => dome.open(), 5);
    for (let tries = 0; tries < 100; tries++) {
      try {
        check(once(call(dome.open)));
        return;
      } catch {
        await new Promise((resolve) => setTimeout(resolve, 2));
      }
    }
    expect.unreachable('the dome never opened');
  });

  test('an error of a device is handled, and that is asserted', async ({ ledger }) => {
    const { sensor, log } = ledger.standIns<{
      sensor: { measure(then: (error?: Error, pixels?: number) => void): void };
      log: Devices['nightLog'];
    }>();
    plan(call(sensor.measure), throws(new Error('no star')));
    await expect(measureDrift(sensor, log)).rejects.toThrow('no star');
  });

  test('a promise is left open on purpose', async ({ ledger }) => {
    const { mount } = ledger.standIns<Devices>();
    plan(call(mount.slewTo), stalls());
    void mount.slewTo(1, 2);
    await reach(once(call(mount.slewTo)));
  });

  test('the test settles a promise itself, and looks at the order', async ({ ledger }) => {
    const { mount, dome } = ledger.standIns<Devices>();
    const parked = deferred();
    plan(call(mount.park), parked);
    const closing = mount.park().then(() => dome.close());
    parked.fulfil();
    await closing;
    check(inTurn(call(mount.park), call(dome.close)));
  });

  test('entries are looked at by hand', ({ ledger }) => {
    const { camera } = ledger.standIns<Devices>();
    camera.cool(-20);
    const [cooled] = ledger.entries(call(camera.cool));
    expect(cooled?.args).toEqual([-20]);
  });

  test('a plan is there for what may happen, and does not', async ({ ledger }) => {
    const { archive } = ledger.standIns<Devices>();
    plan(call(archive.store), fulfils('kept'));
    plan(call(archive.setAside), fulfils('aside'));
    expect(await archive.store({ id: 'frame-1', seconds: 30 })).toBe('kept');
  });

  test('a stream is followed as far as it matters', async ({ ledger }) => {
    const rain = ledger.follow(
      (async function* () {
        yield 0;
        yield 0.4;
      })(),
      'rain',
    );
    await reach(times('1..*', item(rain, 0.4)));
    expect(summary(rain)).toContain('item rain with 0.4');
  });
});
