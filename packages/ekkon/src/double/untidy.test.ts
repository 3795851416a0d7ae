import assert from 'node:assert';
import { isDeepStrictEqual } from 'node:util';
import { afterEach, describe, expect, test } from 'vitest';
import { thrownBy } from '../../tests/failure.ts';
import { call, check, defineMatcher, gives, instances, never, once, openLedger, plan, suchThat } from '../index.ts';

type Store = { read(frame: number): number; save(): void; label: string };

const wrapping = <T extends object>(target: T): T =>
  new Proxy(target, {
    get(_, key, receiver) {
      const value: unknown = Reflect.get(target, key, receiver);
      return typeof value === 'object' && value !== null ? wrapping(value) : value;
    },
  });

describe('a stand-in', () => {
  const forms: Readonly<Record<string, (standIn: Store) => Store>> = {
    'in a proxy': (standIn) => new Proxy(standIn, {}),
    'in a proxy that hands on its receiver': (standIn) =>
      new Proxy(standIn, { get: (...args) => Reflect.get(...args), set: (...args) => Reflect.set(...args) }),
    'in a proxy that wraps all that it gives': (standIn) => wrapping(wrapping(standIn)),
    'as a prototype': (standIn) => Object.create(standIn) as Store,
  };

  test.each(Object.entries(forms))('%s answers and is recorded', (_, form) => {
    const ledger = openLedger({ rules: 'loose' });
    const store = ledger.standIn<Store>('store');
    plan(call(store.read, [1]), gives(5));
    const used = form(store);
    used.label = 'north';
    expect([used.read(1), used.label]).toEqual([5, 'north']);
    check(once(call(store.read, [1])));
    expect(ledger.entries().map(({ label }) => label)).toEqual(['store.label', 'store.read']);
  });

  class Camera {
    expose() {}
  }
  const shapes = { 'of an interface': undefined, 'of a class': Camera };

  test.each(Object.entries(shapes))('%s is not equal to another one', (_, shape) => {
    const ledger = openLedger({ rules: 'loose' });
    const make = (name: string) => ledger.standIn<object>(name, shape as never);
    const [one, other] = [make('one'), make('other')];
    for (const [received, expected] of [
      [one, other],
      [{ device: one }, { device: other }],
    ]) {
      expect(received).not.toEqual(expected);
      expect(received).toEqual(received);
      expect(isDeepStrictEqual(received, expected)).toBe(false);
    }
    expect(() => assert.deepEqual(one, other)).toThrow();
  });

  test('and a callable and their members take a toString and a toJSON as any object', () => {
    const ledger = openLedger({ rules: 'loose' });
    const doubles: readonly object[] = [
      ledger.standIn('open'),
      ledger.standIn('shaped', Camera),
      ledger.standIn('closed', undefined, { members: ['read'] } as never),
      ledger.callable('called') as object,
      ledger.standIn<Store>('inner').read,
    ];
    const member = ledger.standIn<Store>('plain').read;
    expect([member instanceof Function, Object.prototype.toString.call(member)]).toEqual([true, '[object Function]']);
    for (const double of doubles) {
      Object.assign(double, { toString: () => 'mine', toJSON: () => 7 });
      expect([String(double), JSON.stringify({ double })]).toEqual(['mine', '{"double":7}']);
    }
  });
});

describe('an observed function', () => {
  test('shares its properties with the real one: those written, added, defined and deleted', () => {
    const real = Object.assign(() => 1, { calls: 1, limit: 2 } as Record<string, number>);
    const desk = { real };
    const ledger = openLedger({ rules: 'loose' });
    ledger.observe(desk, 'real');
    desk.real['calls'] = 5;
    desk.real['added'] = 3;
    Object.defineProperty(desk.real, 'fixed', { value: 9, enumerable: true });
    delete desk.real['limit'];
    const expected = { calls: 5, added: 3, fixed: 9 };
    expect([{ ...desk.real }, { ...real }]).toEqual([expected, expected]);
    expect(['added' in desk.real, 'limit' in desk.real]).toEqual([true, false]);
    ledger.close();
    expect(desk.real).toBe(real);
  });

  test('that is a class shares its statics, and heirs have their own', () => {
    class Dome {
      static built = 1;
      static make() {
        return new this();
      }
      static #cleaned = 0;
      static clean() {
        this.#cleaned++;
        return this.#cleaned;
      }
      readonly isHeir: boolean;
      #angle = 4;
      constructor() {
        this.isHeir = new.target !== Dome;
      }
      static angleOf(dome: Dome) {
        return dome.#angle;
      }
    }
    const site = { Dome };
    const before = Object.getOwnPropertyDescriptors(Dome);
    const ledger = openLedger({ rules: 'loose' });
    ledger.observe(site, 'Dome');
    ledger.observe(site.Dome, 'angleOf');
    const statics = site.Dome as typeof Dome & { colour?: string };
    statics.colour = 'white';
    class SmallDome extends site.Dome {}
    SmallDome.built = 9;
    expect([site.Dome.angleOf(site.Dome.make()), Dome.built, SmallDome.built, Object.keys(Dome)]).toEqual([4, 1, 9, ['built', 'colour']]);
    expect([site.Dome.clean(), 'colour' in site.Dome, new site.Dome().isHeir, new SmallDome().isHeir]).toEqual([1, true, false, true]);
    const made = new site.Dome();
    expect([new SmallDome() instanceof Dome, made instanceof Dome, made.constructor === site.Dome]).toEqual([true, true, true]);
    expect(instances(site.Dome)).toContain(made);
    check(once(call(site.Dome.angleOf)));
    ledger.close();
    Object.assign(before, { built: { ...before.built }, colour: Object.getOwnPropertyDescriptor(Dome, 'colour') });
    expect(Object.getOwnPropertyDescriptors(Dome)).toEqual(before);
  });
});

test('a write to an observed read-only property is refused to strict code and passed over in sloppy code', () => {
  const ledger = openLedger({ rules: 'loose' });
  const plate = Object.defineProperty({}, 'serial', { value: 4, configurable: true }) as { serial: number };
  const dial = {
    get serial() {
      return 4;
    },
  };
  for (const device of [plate, dial]) {
    ledger.observe(device as { serial: number }, 'serial');
    const sloppy = new Function('device', 'device.serial = 5; return device.serial');
    expect(sloppy(device)).toBe(4);
    expect(() => {
      (device as { serial: number }).serial = 5;
    }).toThrow(/serial cannot be written: it is read-only/);
  }
});

describe('code of the user that is asked', () => {
  test('must not call a stand-in: one clear error, and nothing is recorded', () => {
    const ledger = openLedger({ rules: 'loose' });
    const expose = ledger.callable<(seconds: number) => number>('expose');
    const asking = suchThat((seconds: number) => expose(seconds + 1) > 0, 'asking');
    expose(1);
    expect(() => check(once(call(expose, [asking])))).toThrow(/expose was called inside a predicate; use it before/);
    plan(call(expose, [asking]), gives(1));
    expect(expose(1)).toBe(undefined);
    expect(ledger.entries()).toHaveLength(2);
  });

  test('may use what is observed, and that is not a call of the program', () => {
    const ledger = openLedger({ rules: 'loose' });
    class Sky {}
    const clock = { now: () => 5, zone: 2, Sky };
    for (const key of ['now', 'zone', 'Sky'] as const) ledger.observe(clock, key);
    const expose = ledger.callable<(seconds: number) => void>('expose');
    expose(4);
    const asking = suchThat((seconds: number) => seconds < clock.now() * clock.zone && new clock.Sky() instanceof Sky);
    check(once(call(expose, [asking])));
    expect(ledger.entries()).toHaveLength(1);
  });

  const { proxy, revoke } = Proxy.revocable([], {});
  revoke();
  const unreadable: readonly unknown[] = [
    proxy,
    new Proxy([], {
      get() {
        throw new Error('closed');
      },
      getPrototypeOf() {
        throw new Error('closed');
      },
    }),
    [
      {
        path: [],
        get kind() {
          throw new Error('closed');
        },
      },
    ],
    Object.defineProperty(Promise.resolve(), 'catch', { value: 5 }),
  ];
  test.each([...unreadable.keys()])('and gives an answer that cannot be read leaves it undecided (%s)', (at) => {
    const answer = unreadable[at];
    const ledger = openLedger({ rules: 'loose' });
    const expose = ledger.callable<(frame: object) => number>('expose');
    const odd: readonly unknown[] = [
      suchThat((_: object) => answer as boolean),
      defineMatcher((): { prints: string; differences(): [] } => ({ prints: 'odd', differences: () => answer as [] }))(),
    ];
    for (const matcher of odd) plan(call(expose, [matcher as never]), gives(1));
    expect(expose({})).toBe(undefined);
    for (const matcher of odd) expect(() => check(once(call(expose, [matcher as never])))).toThrow(/^no certain match; cannot tell for #1/);
  });
});

describe('stacks that the program prepares', () => {
  const { prepareStackTrace } = Error;
  afterEach(() => {
    Error.prepareStackTrace = prepareStackTrace as never;
  });
  const broken: readonly (() => unknown)[] = [
    () => {
      throw new Error('no stack');
    },
    () => 5,
    () => undefined,
    () => 'nonsense',
  ];
  test.each(broken.map((prepare, at) => [at, prepare]))('cost nothing but the place (%s)', (_, prepare) => {
    const ledger = openLedger({ rules: 'loose' });
    const expose = ledger.callable<(seconds: number) => void>('expose');
    Error.prepareStackTrace = prepare;
    const { message, stack = '' } = thrownBy(() => [expose(1), check(never(call(expose)))]) as Error;
    expect([message.split('\n')[0], stack.startsWith('ClaimError: #1 expose(1)')]).toEqual([
      '#1 expose(1) is unexpected: 1 call, expected none',
      true,
    ]);
  });
});
