import { type CallPattern, ClaimError, call, check, fulfils, gives, never, once, openLedger, plan, rejects, times } from 'ekkon';
import { describe, expect, test } from 'vitest';
import { type Devices, faults, NightRun, nightWith, simulateDevices, stageNight, targets } from '../src/index.ts';

describe('a night run', () => {
  test('opens, photographs every target, stores every frame and closes', async () => {
    const ledger = openLedger({ name: 'a dry night' });
    const { devices, claims } = stageNight(ledger);

    const result = await new NightRun(devices).run(targets);

    expect(result).toEqual({ stored: ['kept/frame-1', 'kept/frame-2'], ended: 'done' });
    check(claims());
  });

  test('leaves the dome shut when it rains at dusk', async () => {
    const ledger = openLedger({ name: 'rain at dusk' });
    const { devices } = stageNight(ledger);
    plan(call(devices.weather.rain), gives(0.4));

    expect(await new NightRun(devices).run(targets)).toEqual({ stored: [], ended: 'rain' });

    check(
      never(call(devices.dome.open)),
      never(call(devices.camera.expose)),
      once(call(devices.nightLog.write, ['night called off', { because: 'rain' }])),
    );
  });

  test('closes when rain comes between two targets', async () => {
    const ledger = openLedger({ name: 'rain after the first target' });
    const { devices } = stageNight(ledger);
    plan(call(devices.weather.rain), gives(0), gives(0), gives(1.5));

    expect(await new NightRun(devices).run(targets)).toMatchObject({ ended: 'rain' });

    check(once(call(devices.camera.expose)), once(call(devices.dome.close)), times(3, call(devices.weather.rain)));
  });

  const failures: readonly [string, (devices: Devices) => CallPattern<readonly unknown[], unknown>][] = [
    ['the mount', ({ mount }) => call(mount.slewTo)],
    ['the camera', ({ camera }) => call(camera.expose)],
    ['the archive', ({ archive }) => call(archive.store)],
  ];
  test.each(failures)('sounds the alarm and still closes when %s fails', async (_, member) => {
    const ledger = openLedger({ name: 'a fault' });
    const { devices } = stageNight(ledger);
    plan(member(devices), rejects(new Error('jammed')));

    expect(await new NightRun(devices).run(targets)).toMatchObject({ ended: 'fault' });

    check(once(call(devices.alarm.sound, ['jammed'])), once(call(devices.dome.close)));
  });

  test('closes the dome though the mount cannot be parked', async () => {
    const ledger = openLedger({ name: 'a stuck mount' });
    const { devices } = stageNight(ledger);
    plan(call(devices.mount.park), rejects(new Error('stuck')));

    await expect(new NightRun(devices).run(targets)).rejects.toThrow('stuck');

    check(once(call(devices.dome.close)));
  });
});

describe('a mistake in the night run', () => {
  /** For each fault: the line that ought to be enough to find it. */
  const firstLines: Readonly<Record<string, RegExp>> = {
    'dome-left-open': /^dome\.close is missing after #13 mount\.park \(.*faults\.ts:\d+\); 2 of 15 claims fail$/,
    'opens-twice': /^one of #3, #4 dome\.open \(.*faults\.ts:\d+ and .*night-run\.ts:\d+\) is unexpected; 2 of 15 claims fail$/,
    'coordinates-swapped': /^#6 mount\.slewTo \(.*faults\.ts:\d+\): arguments 1 and 2 are swapped: 22, 83\.6; 2 of 15 claims fail$/,
    'stored-aside': /^#8 archive\.setAside \(.*faults\.ts:\d+\) was called, expected archive\.store with these arguments; 2 of 15 claims fail$/,
    'declination-lost': /^#7 camera\.expose \(.*faults\.ts:\d+\): \[0\]\.at\.dec expected 22, received 0; 2 of 15 claims fail$/,
    'frame-not-awaited': /^#8 archive\.store \(.*faults\.ts:\d+\): \[0\] expected \{ id: "frame-1".*received ‹Promise›, not awaited/,
    'stops-early':
      /^after #8 archive\.store \(.*night-run\.ts:\d+\) the second turn is missing: mount\.slewTo, camera\.expose and archive\.store; it goes on with #9 mount\.park; 5 of 15 claims fail$/,
    'cries-wolf': /^#15 alarm\.sound\("night over"\) \(.*faults\.ts:\d+\) is unexpected: 1 call, expected none; 1 of 15 claims fails$/,
    'exposes-while-slewing': /^#7 camera\.expose \(.*faults\.ts:\d+\) is unexpected: \d calls? in the stretch, expected none; 1 of 15 claims fails$/,
    'shuts-too-early': /^#13 dome\.close \(.*faults\.ts:\d+\) came too early: expected after #14 mount\.park was fulfilled; 1 of 15 claims fails$/,
  };

  test.each(Object.entries(firstLines))('%s is found from the first line of the report', async (name, line) => {
    const fault = faults.find((each) => each.name === name);
    const ledger = openLedger({ name });
    const { devices, claims } = stageNight(ledger);
    await nightWith(fault === undefined ? [] : [fault], devices).run(targets);

    const [first] = thrownBy(() => check(claims())).message.split('\n');
    expect(first).toMatch(line);
  });

  test('has a line here for every fault there is', () => {
    expect(Object.keys(firstLines)).toEqual(faults.map(({ name }) => name));
  });
});

test('simulated devices take time, and the camera refuses while the mount moves', async () => {
  const { mount, camera } = simulateDevices({ speed: 200 });
  const moving = mount.slewTo(83.6, 22);
  await expect(camera.expose({ seconds: 1, filter: 'red', at: { ra: 0, dec: 0 } })).rejects.toThrow('moving');
  await moving;
  expect(await camera.expose({ seconds: 1, filter: 'red', at: { ra: 0, dec: 0 } })).toEqual({ id: 'frame-1', seconds: 1 });
});

test('a real archive and a stand-in can be mixed', async () => {
  const ledger = openLedger({ name: 'mixed' });
  const { devices } = stageNight(ledger);
  plan(call(devices.archive.store), fulfils('kept/elsewhere'));
  const { archive } = simulateDevices({ speed: 200 });

  expect(await new NightRun({ ...devices, archive }).run(targets)).toMatchObject({ stored: ['kept/frame-1', 'kept/frame-2'] });
  check(never(call(devices.archive.store)), times(2, call(devices.camera.expose)));
});

function thrownBy(run: () => void): ClaimError {
  try {
    run();
  } catch (error) {
    if (error instanceof ClaimError) return error;
    throw error;
  }
  throw new Error('nothing was thrown');
}
