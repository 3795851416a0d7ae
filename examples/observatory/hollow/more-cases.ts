import {
  call,
  check,
  conforms,
  during,
  either,
  exactItems,
  fulfilled,
  fulfils,
  gives,
  inFlight,
  inTurn,
  type Ledger,
  loop,
  never,
  nothingElse,
  once,
  onlyAfter,
  plan,
  suchThat,
  times,
  withLedger,
} from 'ekkon';
import { expect } from 'vitest';
import { type Case, claimedNight, fullRain, rainyNight, standInParts } from './cases.ts';

/** Keeps one frame, which the archive's stand-in answers. */
async function keepFrame(ledger: Ledger) {
  const { archive } = standInParts(ledger);
  plan(call(archive.store), fulfils('kept'));
  await archive.store({ id: 'frame-1', seconds: 30 });
  return archive;
}

/** A dome as it really is, for claims that a double is still like it. */
class RealDome {
  open(): void {}
  close(): void {}
}

export const moreCases: readonly Case[] = [
  {
    name: 'a range is claimed in which every count lies',
    rules: 'usual',
    finding: /^times 0\.\.\* dome\.open always holds: no record could break it/,
    hollow(ledger) {
      const { keeper, dome } = rainyNight(ledger);
      keeper.tend();
      check(times('0..*', call(dome.open)));
    },
    honest: claimedNight,
  },
  {
    name: 'any number of calls may be in flight',
    rules: 'usual',
    finding: /^in flight 0\.\.\* archive\.store always holds/,
    async hollow(ledger) {
      const archive = await keepFrame(ledger);
      check(inFlight('0..*', call(archive.store)));
    },
    async honest(ledger) {
      const archive = await keepFrame(ledger);
      check(inFlight('1..2', call(archive.store)));
    },
  },
  {
    name: 'a sequence allows every order there is',
    rules: 'usual',
    finding: /^in turn 0\.\.\* either \(dome\.open \| dome\.close\) always holds/,
    hollow(ledger) {
      const { keeper, dome } = rainyNight(ledger);
      keeper.tend();
      check(inTurn(loop('0..*', either(call(dome.open), call(dome.close)))));
    },
    honest(ledger) {
      const { keeper, dome, station } = rainyNight(ledger);
      keeper.tend();
      check(inTurn(call(station.rain), call(dome.close)));
    },
  },
  {
    name: 'a promise is claimed to be fulfilled only after its call',
    rules: 'usual',
    finding: /^fulfilled archive\.store only after archive\.store always holds/,
    async hollow(ledger) {
      const archive = await keepFrame(ledger);
      check(onlyAfter(fulfilled(call(archive.store)), call(archive.store)));
    },
    async honest(ledger) {
      const archive = await keepFrame(ledger);
      check(once(fulfilled(call(archive.store), 'kept')));
    },
  },
  {
    name: 'nothing else is claimed, and the code did not run',
    rules: 'careful',
    finding:
      /^nothing was recorded on alarm: the claim holds only because of that; was the double handed/,
    hollow(ledger) {
      const { alarm } = standInParts(ledger);
      check(nothingElse(alarm));
    },
    honest(ledger) {
      const { keeper, alarm, dome } = rainyNight(ledger);
      keeper.tend();
      check(once(call(dome.close)), nothingElse(alarm));
    },
  },
  {
    name: 'a double that was never used is claimed to conform',
    rules: 'careful',
    finding: /^nothing was recorded on dome: the claim holds only because of that/,
    hollow(ledger) {
      const { dome } = standInParts(ledger);
      check(conforms(dome, RealDome));
    },
    honest(ledger) {
      const { keeper, dome } = rainyNight(ledger);
      keeper.tend();
      check(conforms(dome, RealDome));
    },
  },
  {
    name: 'no items are claimed of a stream that gave nothing',
    rules: 'careful',
    finding: /^nothing was recorded on rain: the claim holds only because of that/,
    hollow(ledger) {
      const rain = ledger.follow<number>(() => () => {}, 'rain');
      check(exactItems(rain, []));
    },
    honest: fullRain,
  },
  {
    name: 'the stretch that a claim speaks of begins with a mark taken at the end',
    rules: 'careful',
    finding: /^anything after mark "dusk" never occurred: the claim holds only because of that/,
    hollow(ledger) {
      const { keeper, dome } = rainyNight(ledger);
      keeper.tend();
      check(during({ from: ledger.mark('dusk') }, never(call(dome.open))));
    },
    honest(ledger) {
      const { keeper, dome } = rainyNight(ledger);
      const dusk = ledger.mark('dusk');
      keeper.tend();
      check(during({ from: dusk }, never(call(dome.open))));
    },
  },
  {
    name: 'a check that fails is swallowed',
    rules: 'usual',
    finding:
      /^a check \(.*more-cases\.ts:\d+\) failed, and its error was swallowed: never dome\.close: #2 dome\.close\(\) .* is unexpected/,
    hollow(ledger) {
      const { keeper, dome } = rainyNight(ledger);
      keeper.tend();
      try {
        check(never(call(dome.close)));
      } catch {
        // "It is flaky", somebody thought.
      }
    },
    honest: claimedNight,
  },
  {
    name: 'a predicate answers with an object, which would always be true',
    rules: 'usual',
    finding:
      /^no certain match; cannot tell for #1 archive\.store .*: \[0\] it returned \{ seconds: 30 \} instead of true or false/,
    async hollow(ledger) {
      const archive = await keepFrame(ledger);
      const isLong = (frame: { id: string; seconds: number }) =>
        ({ seconds: frame.seconds }) as never;
      check(once(call(archive.store, [suchThat(isLong, 'a long one')])));
    },
    async honest(ledger) {
      const archive = await keepFrame(ledger);
      const isLong = (frame: { id: string; seconds: number }) => frame.seconds > 10;
      check(once(call(archive.store, [suchThat(isLong, 'a long one')])));
    },
  },
  {
    name: 'doubles are made, and nothing is done with them',
    rules: 'careful',
    finding: /^.*dome.* were made and never called, and no claim was checked/,
    hollow(ledger) {
      rainyNight(ledger);
    },
    honest: claimedNight,
  },
  {
    name: 'a double feeds the code, and nobody asserts on what comes of it',
    rules: 'careful',
    finding: /^1 entry recorded, the first #1 station\.rain .*, and no claim was checked/,
    hollow(ledger) {
      const { station } = rainyNight(ledger);
      station.rain();
    },
    honest(ledger) {
      const { station } = rainyNight(ledger);
      expect(station.rain()).toBe(0.4);
    },
  },
  {
    name: 'a property is read after the ledger was closed',
    rules: 'careful',
    finding: /rule callAfterClose: reads Gauge\.rain \(.*\) came after ledger "inner" was closed/,
    async hollow() {
      class Gauge {
        rain = 0.4;
      }
      const gauge = new Gauge();
      let read = () => 0;
      await withLedger({ name: 'inner', rules: 'careful' }, (inner) => {
        inner.observe(gauge, 'rain');
        const { get } = Object.getOwnPropertyDescriptor(gauge, 'rain') ?? {};
        // A function that was handed out before the end still works after it.
        read = () => get?.call(gauge) as number;
        read();
        inner.entries();
        check(never(call(inner.callable('unused'))), nothingElse(inner.callable('other')));
      }).catch(() => {});
      read();
    },
    async honest() {
      await withLedger({ name: 'inner', rules: 'careful' }, (inner) => {
        const rain = inner.callable<() => number>('rain');
        plan(once(call(rain)), gives(0.4));
        rain();
        check(once(call(rain)));
      });
    },
  },
];
