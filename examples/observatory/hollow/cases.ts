import {
  between,
  call,
  callsBack,
  check,
  completed,
  deferred,
  during,
  exactItems,
  fulfils,
  gives,
  item,
  type Ledger,
  never,
  once,
  openLedger,
  plan,
  type Rules,
  reach,
  settled,
  stays,
  times,
  typeOf,
  withLedger,
} from 'ekkon';
import {
  type Devices,
  DomeKeeper,
  type GuideSensor,
  measureDrift,
  NightRun,
  type Station,
  stageNight,
  targets,
} from '../src/index.ts';

/** A test that would pass although it verifies nothing, the finding that must fail it, and the same test written well. */
export interface Case {
  readonly name: string;
  readonly rules: Rules;
  /** What the first line of the failure must contain. */
  readonly finding: RegExp;
  readonly hollow: (ledger: Ledger) => unknown;
  readonly honest: (ledger: Ledger) => unknown;
}

export interface Parts {
  readonly dome: Devices['dome'];
  readonly station: Station;
  readonly log: Devices['nightLog'];
  readonly alarm: Devices['alarm'];
  readonly archive: Devices['archive'];
  readonly sensor: GuideSensor;
}

/** Stand-ins whose calls need no plan and no claim, so each case is about one thing. */
export function standInParts(ledger: Ledger): Parts {
  const parts = ledger.standIns<Parts>({
    rules: { unplannedCall: 'allow', unclaimedCall: 'allow' },
  });
  // A destructured stand-in cannot be spread: stand-ins appear when they are named.
  const { dome, station, log, alarm, archive, sensor } = parts;
  return { dome, station, log, alarm, archive, sensor };
}

/** A keeper on a rainy night, with stand-ins. */
export function rainyNight(ledger: Ledger) {
  const parts = standInParts(ledger);
  plan(call(parts.station.rain), gives(0.4));
  return { ...parts, keeper: new DomeKeeper(parts.dome, parts.station, parts.log) };
}

/** How most of these tests should look: the act, then claims on its calls. */
export function claimedNight(ledger: Ledger): void {
  const { keeper, dome } = rainyNight(ledger);
  keeper.tend();
  check(never(call(dome.open)), once(call(dome.close)));
}

const soon = (run: () => void) => setTimeout(run, 5);
const aWhile = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

async function* readings(...values: readonly number[]): AsyncGenerator<number> {
  yield* values;
}

/** How the tests of a stream should look: all of its items, then claims on them. */
export async function fullRain(ledger: Ledger): Promise<void> {
  const rain = ledger.follow(readings(0, 0.4), 'rain');
  await reach(once(completed(rain)));
  check(exactItems(rain, [0, 0.4]), never(item(rain, between(5, 99))));
}

export const cases: readonly Case[] = [
  {
    name: 'a claim is built and not checked',
    rules: 'usual',
    finding: /^once dome\.open \(.*cases\.ts:\d+\) was never checked/,
    hollow(ledger) {
      const { keeper, dome } = rainyNight(ledger);
      keeper.tend();
      once(call(dome.open));
    },
    honest: claimedNight,
  },
  {
    name: 'a bare pattern stands where a claim should',
    rules: 'strict',
    finding: /^.*dome\.open \(.*cases\.ts:\d+\) is a pattern, not a claim/,
    hollow(ledger) {
      const { keeper, dome } = rainyNight(ledger);
      keeper.tend();
      call(dome.open);
    },
    honest: claimedNight,
  },
  {
    name: 'reach is not awaited',
    rules: 'loose',
    finding: /^reach of once dome\.close \(.*cases\.ts:\d+\) was not awaited/,
    hollow(ledger) {
      const { keeper, dome } = rainyNight(ledger);
      soon(() => keeper.tend());
      void reach(once(call(dome.close)));
    },
    async honest(ledger) {
      const { keeper, dome } = rainyNight(ledger);
      soon(() => keeper.tend());
      await reach(once(call(dome.close)));
    },
  },
  {
    name: 'an assertion stands in a callback that never runs',
    rules: 'strict',
    finding:
      /^1 entry recorded, the first #1 sensor\.measure \(.*guider\.ts:\d+\), and no claim was checked/,
    hollow(ledger) {
      const { sensor, log } = standInParts(ledger);
      void measureDrift(sensor, log).then(() => check(never(call(log.write))));
    },
    async honest(ledger) {
      const { sensor, log } = standInParts(ledger);
      plan(call(sensor.measure), callsBack([undefined, 1.5]));
      await measureDrift(sensor, log);
      check(never(call(log.write)), once(call(sensor.measure, [typeOf('function')])));
    },
  },
  {
    name: 'a promise never settles',
    rules: 'usual',
    finding: /^the promise of #\d mount\.slewTo \(.*night-run\.ts:\d+\) never settled/,
    async hollow(ledger) {
      const { devices } = stageNight(ledger);
      plan(call(devices.mount.slewTo), deferred());
      void new NightRun(devices).run(targets);
      await reach(once(call(devices.mount.slewTo)));
    },
    async honest(ledger) {
      const { devices } = stageNight(ledger);
      const slewed = deferred();
      plan(call(devices.mount.slewTo), slewed, fulfils(undefined));
      void new NightRun(devices).run(targets);
      await reach(times('1..*', call(devices.mount.slewTo)));
      slewed.fulfil();
      await ledger.untilQuiet();
      check(once(call(devices.dome.close)));
    },
  },
  {
    name: 'a plan is never used, since one argument differs',
    rules: 'strict',
    finding:
      /^#1 archive\.store .*: \[0\]\.id expected "frame-2", received "frame-1"; plan archive\.store\(\{ id: "frame-2"/,
    async hollow(ledger) {
      const { archive } = standInParts(ledger);
      plan(call(archive.store, [{ id: 'frame-2', seconds: 30 }]), fulfils('kept'));
      await archive.store({ id: 'frame-1', seconds: 30 });
      check(once(call(archive.store)));
    },
    async honest(ledger) {
      const { archive } = standInParts(ledger);
      plan(call(archive.store, [{ id: 'frame-1', seconds: 30 }]), fulfils('kept'));
      await archive.store({ id: 'frame-1', seconds: 30 });
      check(once(call(archive.store)));
    },
  },
  {
    name: 'a call that nothing answers is swallowed by a catch',
    rules: 'strict',
    finding: /^#2 dome\.close\(\) \(.*dome-keeper\.ts:\d+\) has no plan/,
    hollow(ledger) {
      const { dome, station } = ledger.standIns<Parts>();
      const log = ledger.standIn<Parts['log']>('log', undefined, { rules: 'loose' });
      plan(call(station.rain), gives(0.4));
      new DomeKeeper(dome, station, log).tend();
      check(once(call(station.rain)), once(call(dome.close)));
    },
    honest(ledger) {
      const { dome, station, log } = ledger.standIns<Parts>();
      plan(call(station.rain), gives(0.4));
      plan(call(dome.close), gives(undefined));
      new DomeKeeper(dome, station, log).tend();
      check(once(call(station.rain)), once(call(dome.close)));
    },
  },
  {
    name: 'the state is set by hand, and the call under test removed',
    rules: 'strict',
    finding:
      /^plan station\.rain gives 0\.4 \(.*cases\.ts:\d+\) answered no call: station\.rain was never called/,
    hollow(ledger) {
      rainyNight(ledger);
      const state = { dome: 'closed' };
      if (state.dome !== 'closed') throw new Error('the dome is open');
    },
    honest: claimedNight,
  },
  {
    name: 'the ledger is closed before the late call',
    rules: 'strict',
    finding:
      /rule callAfterClose: dome\.close\(\) \(.*cases\.ts:\d+\) came after ledger "inner" was closed/,
    async hollow() {
      const { dome } = await withLedger({ name: 'inner', rules: 'strict' }, (inner) => {
        const parts = rainyNight(inner);
        parts.station.rain();
        check(never(call(parts.dome.close)), once(call(parts.station.rain)));
        return parts;
      });
      dome.close();
    },
    async honest() {
      await withLedger({ name: 'inner', rules: 'strict' }, async (inner) => {
        const { dome, keeper } = rainyNight(inner);
        soon(() => keeper.tend());
        await reach(once(call(dome.close)));
      });
    },
  },
  {
    name: 'two ledgers are confused',
    rules: 'strict',
    finding: /^nothing was recorded on dome: the claim holds only because of that/,
    hollow(ledger) {
      const other = openLedger({ name: 'another', rules: 'loose' });
      const { dome } = standInParts(ledger);
      rainyNight(other).keeper.tend();
      check(never(call(dome.open)));
    },
    honest: claimedNight,
  },
  {
    name: 'nobody emits to the stream',
    rules: 'strict',
    finding: /^nothing was recorded on rain: the claim holds only because of that/,
    async hollow(ledger) {
      const rain = ledger.follow<number>(() => () => {}, 'rain');
      await stays(never(item(rain, between(5, 99))), { for: 5 });
    },
    honest: fullRain,
  },
  {
    name: 'the stream is followed, gives nothing, and nobody looks',
    rules: 'strict',
    finding:
      /^stream rain \(.*cases\.ts:\d+\) is followed and emitted nothing, and no claim was checked/,
    hollow(ledger) {
      const rain = ledger.follow<number>(() => () => {}, 'rain');
      for (const millimetres of rain.items) if (millimetres > 5) throw new Error('a downpour');
    },
    honest: fullRain,
  },
  {
    name: 'the stream finishes early, before anything is looked at',
    rules: 'strict',
    finding: /^1 entry recorded, the first #1 rain, and no claim was checked/,
    async hollow(ledger) {
      const rain = ledger.follow(readings(), 'rain');
      await ledger.untilQuiet();
      for (const millimetres of rain.items) if (millimetres > 5) throw new Error('a downpour');
    },
    honest: fullRain,
  },
  {
    name: 'a stand-in is replaced by another of the same name',
    rules: 'strict',
    finding:
      /^nothing was recorded on dome: the claim holds only because of that; dome~2\.open was called, on another double of that name/,
    hollow(ledger) {
      const dome = ledger.standIn<Parts['dome']>('dome');
      const other = ledger.standIn<Parts['dome']>('dome');
      plan(once(call(other.open)), gives(undefined));
      other.open();
      check(never(call(dome.open)));
    },
    honest(ledger) {
      const dome = ledger.standIn<Parts['dome']>('dome');
      plan(once(call(dome.close)), gives(undefined));
      dome.close();
      check(never(call(dome.open)));
    },
  },
  {
    name: 'claims are checked before the act',
    rules: 'strict',
    finding:
      /^2 entries recorded, the first #1 station\.rain \(.*\), and 1 claim was checked before anything was called/,
    hollow(ledger) {
      const { keeper, dome } = rainyNight(ledger);
      check(never(call(dome.open)));
      keeper.tend();
    },
    honest: claimedNight,
  },
  {
    name: 'there is only a never claim, and the code did not run',
    rules: 'strict',
    finding:
      /^nothing was recorded on alarm: the claim holds only because of that; was the double handed to the code under test\?/,
    hollow(ledger) {
      const { alarm } = standInParts(ledger);
      check(never(call(alarm.sound)));
    },
    honest(ledger) {
      const { keeper, alarm } = rainyNight(ledger);
      keeper.tend();
      check(never(call(alarm.sound)));
    },
  },
  {
    name: 'the stretch that a claim speaks of never occurs',
    rules: 'strict',
    finding: /^archive\.store never occurred: the claim holds only because of that/,
    hollow(ledger) {
      const { keeper, dome, archive } = rainyNight(ledger);
      keeper.tend();
      check(
        during(
          { from: call(archive.store), until: settled(call(archive.store)) },
          never(call(dome.open)),
        ),
      );
    },
    async honest(ledger) {
      const { dome, archive } = standInParts(ledger);
      plan(call(archive.store), fulfils('kept'));
      await archive.store({ id: 'frame-1', seconds: 30 });
      check(
        during(
          { from: call(archive.store), until: settled(call(archive.store)) },
          never(call(dome.open)),
        ),
      );
      check(once(call(archive.store)));
    },
  },
  {
    name: 'a stream fails, and nobody hears of it',
    rules: 'loose',
    finding: /^the stream rain failed with new Error\("the sensor is wet"\)/,
    async hollow(ledger) {
      const rain = ledger.follow(fails(), 'rain');
      await reach(once(item(rain, 0)));
      await aWhile(5);
    },
    async honest(ledger) {
      const rain = ledger.follow(readings(0), 'rain');
      await reach(once(item(rain, 0)));
      await reach(once(completed(rain)));
    },
  },
  {
    name: 'a call that no claim speaks of is let pass',
    rules: 'strict',
    finding: /^#2 alarm\.sound \(.*cases\.ts:\d+\) is covered by no claim/,
    hollow(ledger) {
      const { dome, alarm } = ledger.standIns<Parts>({ rules: { unplannedCall: 'allow' } });
      dome.close();
      alarm.sound('rain');
      check(once(call(dome.close)));
    },
    honest(ledger) {
      const { dome, alarm } = ledger.standIns<Parts>({ rules: { unplannedCall: 'allow' } });
      dome.close();
      alarm.sound('rain');
      check(once(call(dome.close)), once(call(alarm.sound, ['rain'])));
    },
  },
];

async function* fails(): AsyncGenerator<number> {
  yield 0;
  throw new Error('the sensor is wet');
}
