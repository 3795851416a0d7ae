import { runInNewContext } from 'node:vm';
import { expect, test } from 'vitest';
import { call, check, computes, fulfilled, fulfils, gives, once, openLedger, plan, rejected, stalls, times } from '../index.ts';

type Weather = { read(where?: string): number };

test('several replies come in turn, and the last one holds', () => {
  const { weather } = openLedger().standIns<{ weather: Weather }>();
  const made = plan(call(weather.read), gives(4), gives(9));
  expect([weather.read(), weather.read(), weather.read()]).toEqual([4, 9, 9]);
  expect(made.used).toBe(3);
});

test('the newest plan that fits answers, and where none does the reply is undefined', () => {
  const { weather } = openLedger().standIns<{ weather: Weather }>();
  plan(call(weather.read, ['north']), gives(1));
  expect([weather.read('north'), weather.read('south')]).toEqual([1, undefined]);
  plan(call(weather.read), gives(2));
  plan(call(weather.read, ['south']), gives(3));
  expect([weather.read('north'), weather.read('south'), weather.read()]).toEqual([2, 3, 2]);
});

test('a computed reply has the call’s own this and arguments', () => {
  const { weather } = openLedger().standIns<{ weather: Weather }>();
  let receiver: unknown;
  plan(
    call(weather.read),
    computes(function (this: unknown, where?: string) {
      receiver = this;
      return where?.length ?? 0;
    }),
  );
  expect(weather.read('south')).toBe(5);
  expect(receiver).toBe(weather);
});

test('a promise that is fulfilled with a thenable settles as that does, for the caller and in the record', async () => {
  type Settle = (result: string) => void;
  const thenable = (run: (yes: Settle, no: Settle) => void) => Object.fromEntries([['then', run]]);
  const settling: readonly [string, unknown, 'fulfilled' | 'rejected'][] = [
    ['a thenable that rejects', thenable((_, no) => no('rain')), 'rejected'],
    ['a thenable that fulfils', thenable((yes) => yes('rain')), 'fulfilled'],
    ['a promise of another realm', runInNewContext("Promise.reject('rain')"), 'rejected'],
  ];
  for (const [, value, state] of settling) {
    const { weather } = openLedger({ rules: 'loose' }).standIns<{ weather: { forecast(): Promise<unknown> } }>();
    plan(call(weather.forecast), fulfils(value));
    const seen = await weather.forecast().then(
      () => 'fulfilled',
      () => 'rejected',
    );
    expect(seen).toBe(state);
    check(once((state === 'fulfilled' ? fulfilled : rejected)(call(weather.forecast))));
  }
});

test('a call that stalls until it is aborted rejects with the reason, and else never settles', async () => {
  const ledger = openLedger();
  const load = ledger.callable<(url: string, options?: { signal?: AbortSignal } | AbortSignal) => Promise<never>>('load');
  plan(call(load), stalls({ untilAborted: true }));
  const [one, other] = [new AbortController(), new AbortController()];
  const stalled = [load('a', { signal: one.signal }), load('b', other.signal), load('c', AbortSignal.abort('before'))];
  void load('d', {});
  one.abort('wind');
  other.abort('rain');
  const reasons = await Promise.all(stalled.map((promise) => promise.catch((reason: unknown) => reason)));
  expect(reasons).toEqual(['wind', 'rain', 'before']);
  expect(ledger.entries().map(({ outcome }) => outcome.state)).toEqual(['rejected', 'rejected', 'rejected', 'pending']);
  expect(() => stalls({ untilAborted: 1 as never })).toThrow('Write stalls({ untilAborted: true }).');
  check(times(3, rejected(call(load))));
  ledger.close();
});
