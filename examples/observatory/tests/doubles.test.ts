import { about, call, callsBack, check, gives, instances, never, once, plan, stalls, throws, times } from 'ekkon';
import { test } from 'ekkon/vitest';
import { describe, expect } from 'vitest';
import { CoverMotor, motors, openCover } from '../src/cover.ts';
import type { Dome, NightLog } from '../src/devices.ts';
import { DomeKeeper, type Station } from '../src/dome-keeper.ts';
import { type GuideSensor, measureDrift } from '../src/guider.ts';
import { warnRoof } from '../src/siren.ts';

interface Parts {
  dome: Dome;
  station: Station;
  log: NightLog;
  sensor: GuideSensor;
}

describe('a method that returns nothing', () => {
  test('is judged by the calls it makes', ({ ledger }) => {
    const { dome, station, log } = ledger.standIns<Parts>();
    plan(call(station.rain), gives(0));
    plan(call(station.wind), gives(3));

    new DomeKeeper(dome, station, log).tend();

    check(once(call(dome.open)), never(call(dome.close)), never(call(log.write)));
  });

  /** A branch for each reply. */
  const cases = [
    { rain: 0, wind: 0, moves: 'open' },
    { rain: 0, wind: 11.9, moves: 'open' },
    { rain: 0, wind: 12, moves: 'close' },
    { rain: 0.1, wind: 0, moves: 'close' },
  ] as const;
  test.for(cases)('takes the branch for rain $rain and wind $wind: $moves', ({ rain, wind, moves }, { ledger }) => {
    const { dome, station, log } = ledger.standIns<Parts>();
    plan(call(station.rain), gives(rain));
    plan(call(station.wind), gives(wind));

    new DomeKeeper(dome, station, log).tend();

    check(once(call(dome[moves])), never(call(dome[moves === 'open' ? 'close' : 'open'])));
  });
});

test('a method that catches its dependency’s error says so in the log', ({ ledger }) => {
  const { dome, station, log } = ledger.standIns<Parts>();
  plan(call(station.rain), gives(1));
  plan(call(dome.close), throws(new Error('the shutter is iced')));

  new DomeKeeper(dome, station, log).tend();

  check(once(call(log.write, ['dome not moved', 'the shutter is iced'])));
});

test('a constructor refuses a missing dependency', ({ ledger }) => {
  const { dome, log } = ledger.standIns<Parts>();
  expect(() => new DomeKeeper(dome, undefined as never, log)).toThrow('needs a dome and a weather station');
  check(never(call(dome.open)));
});

describe('consecutive replies', () => {
  const nights: readonly [string, [number, number, number], number][] = [
    ['steady', [1, 1, 1], 1],
    ['at the lower bound', [0.3, 0.29, 0], 0.3],
    ['at the upper bound', [8, 8.1, 99], 8],
    ['mixed', [0, 1.15, 20], 3.15],
  ];
  test.for(nights)('drive a calculation over its bounds: %s', ([, [first, second, third], mean], { ledger }) => {
    const { dome, station, log } = ledger.standIns<Parts>();
    plan(times(3, call(station.seeing)), gives(first), gives(second), gives(third));

    const seeing = ledger.callable<(value: number) => void>('seeing');
    seeing(new DomeKeeper(dome, station, log).seeing());

    check(once(call(seeing, [about(mean)])));
  });
});

describe('a sensor that calls back', () => {
  test('gives the drift', async ({ ledger }) => {
    const { sensor, log } = ledger.standIns<Parts>();
    plan(call(sensor.measure), callsBack([undefined, 0.4]));
    expect(await measureDrift(sensor, log)).toBe(0.4);
    check(never(call(log.write)));
  });

  test('fails, and that is noted', async ({ ledger }) => {
    const { sensor, log } = ledger.standIns<Parts>();
    plan(call(sensor.measure), callsBack([new Error('no star')]));
    expect(await measureDrift(sensor, log)).toBe(0);
    check(once(call(log.write, ['guiding lost', 'no star'])));
  });
});

test('the siren on the global object does not really sound, and is itself again afterwards', ({ ledger }) => {
  const sounded: number[] = [];
  const siren = { sound: (seconds: number) => void sounded.push(seconds) };
  globalThis.siren = siren;
  ledger.takeOver(siren, 'sound');

  warnRoof(3);

  check(times(3, call(siren.sound, [2])));
  expect(sounded).toEqual([]);
  ledger.close();
  warnRoof(1);
  expect(sounded).toEqual([2]);
  globalThis.siren = undefined;
});

test('a private method is observed without switching the types off', ({ ledger }) => {
  const { dome, station, log } = ledger.standIns<Parts>();
  plan(call(station.rain), gives(0));
  plan(call(station.wind), gives(0));
  const keeper = new DomeKeeper(dome, station, log);
  const isSafe = ledger.observeHidden(keeper, 'isSafe');

  keeper.tend();

  check(once(call(isSafe, [])));
  const [asked] = ledger.entries(call(station.rain));
  expect(asked?.parent).toBe(ledger.entries(call(isSafe))[0]?.id);
});

test('a class that the code constructs by itself', ({ ledger }) => {
  ledger.takeOver(motors, 'CoverMotor');

  openCover('north');

  const [motor] = instances(motors.CoverMotor);
  expect(motor).toBeInstanceOf(CoverMotor);
  check(once(call(motors.CoverMotor, ['north'])));
  if (motor !== undefined) check(once(call(motor.turn, [90])));
});

test('a device that never answers is seen as pending', ({ ledger }) => {
  const { mount } = ledger.standIns<{ mount: { park(): Promise<void> } }>();
  plan(call(mount.park), stalls());
  void mount.park();
  expect(ledger.entries()[0]?.outcome.state).toBe('pending');
});
