import { describe, expect, test } from 'vitest';
import { call, computes, type Entry, fulfils, gives, openLedger, plan, type Reply, rejects, throws } from '../index.ts';

type Exposure = { seconds: number; at: { ra: number; dec: number } };
type Camera = { expose(exposure: Exposure): Promise<string>; cool(to: number): void };

const fault = new Error('jammed');
const exposure = (): Exposure => ({ seconds: 30, at: { ra: 83.6, dec: 22 } });

describe('an entry', () => {
  test('says who was called, with what, on what, when, from where and during what', () => {
    const ledger = openLedger();
    const { camera } = ledger.standIns<{ camera: Camera }>();
    plan(
      call(camera.expose),
      computes((): never => camera.cool(-20) as never),
    );
    const { stack } = new Error('the line before the call');
    camera.expose(exposure());

    const [outer, inner] = ledger.entries();
    expect(outer).toEqual({
      id: 1,
      label: 'camera.expose',
      double: 'camera',
      member: 'expose',
      kind: 'call',
      args: [exposure()],
      liveArgs: [exposure()],
      at: { began: expect.any(Number), ended: expect.any(Number) },
      receiver: camera,
      began: 1,
      ended: 4,
      outcome: { state: 'returned', value: undefined },
      site: { file: import.meta.filename, line: Number(/open-ledger\.test\.ts:(\d+)/.exec(stack ?? '')?.[1]) + 1, column: expect.any(Number) },
      sites: [outer?.site],
      parent: undefined,
      answer: { plan: 'camera.expose', reply: 'computes' },
    });
    expect(inner).toMatchObject({ id: 2, began: 2, ended: 3, parent: 1, args: [-20] });
  });

  const endings: Readonly<Record<string, readonly [Reply<never>, Entry['outcome']]>> = {
    returns: [gives('frame') as Reply<never>, { state: 'returned', value: 'frame' }],
    throws: [throws(fault), { state: 'threw', reason: fault }],
    fulfils: [fulfils('frame') as unknown as Reply<never>, { state: 'fulfilled', value: 'frame' }],
    rejects: [rejects(fault) as unknown as Reply<never>, { state: 'rejected', reason: fault }],
    'computes a promise that fulfils': [computes(async () => 'frame') as unknown as Reply<never>, { state: 'fulfilled', value: 'frame' }],
    'computes a promise that rejects': [computes(() => Promise.reject(fault)) as unknown as Reply<never>, { state: 'rejected', reason: fault }],
    'computes and throws': [
      computes(() => {
        throw fault;
      }),
      { state: 'threw', reason: fault },
    ],
  };
  test.each(Object.entries(endings))('says how the call ended where it %s', async (_, [reply, outcome]) => {
    const ledger = openLedger();
    const { camera } = ledger.standIns<{ camera: Camera }>();
    plan(call(camera.expose), reply);

    let given: unknown;
    try {
      given = camera.expose(exposure());
    } catch (reason) {
      given = reason;
    }
    const isPromise = given instanceof Promise;
    expect(ledger.entries()[0]?.outcome.state).toBe(isPromise ? 'pending' : outcome.state);
    const settled = await Promise.resolve(given).catch((reason) => reason);

    const [entry] = ledger.entries();
    expect(entry?.outcome).toEqual(outcome);
    expect(settled).toBe('value' in outcome ? outcome.value : fault);
    expect([entry?.began, entry?.ended]).toEqual([1, 2]);
  });

  test('leaves what is not a plain promise untouched, and a plain one gives the same each time', () => {
    const ledger = openLedger();
    const query = ledger.callable<() => unknown>('query');
    let ran = 0;
    // biome-ignore lint/suspicious/noThenProperty: a query that runs when it is awaited, as some are.
    const lazy = { then: () => void ran++ };
    class Tracked<T> extends Promise<T> {}
    const plain = Promise.resolve(1);
    plan(call(query), gives(lazy), gives(Tracked.resolve(1)), gives(plain), gives(plain));

    expect(query()).toBe(lazy);
    expect(query()).toBeInstanceOf(Tracked);
    expect(query()).toBe(query());
    expect(ran).toBe(0);
  });
});

test('call sites are captured as often as asked for, and no more', () => {
  for (const [callSites, captured] of [
    [0, 0],
    [2, 2],
    [undefined, 256],
  ] as const) {
    const ledger = openLedger(callSites === undefined ? {} : { callSites });
    const done = ledger.callable<() => void>('done');
    for (let at = 0; at < 300; at++) done();
    expect(ledger.entries().filter(({ site }) => site !== undefined)).toHaveLength(captured);
  }
});

test('a call through native code is traced to the line that started it', () => {
  const ledger = openLedger();
  const done = ledger.callable<(id: number) => void>('done');
  [1].forEach(done);
  expect(ledger.entries()[0]?.site?.file).toBe(import.meta.filename);
});
