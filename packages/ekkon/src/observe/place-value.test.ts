import { afterEach, expect, test, vi } from 'vitest';
import { ClaimError, call, check, type Ledger, once, openLedger, withLedger } from '../index.ts';

/** All that can be told of the properties of an object and those it inherits from. */
function descriptorsOf(target: object | null): readonly unknown[] {
  if (target === null) return [];
  const own = Object.getOwnPropertyDescriptors(target) as Record<PropertyKey, PropertyDescriptor>;
  return [...Reflect.ownKeys(own).map((key) => [key, own[key]]), ...descriptorsOf(Object.getPrototypeOf(target))];
}

class Base {
  get inherited() {
    return 1;
  }
}

const targets = (): Record<string, object> => ({
  data: { at: 1 },
  'read-only data': Object.defineProperty({}, 'at', { value: 1, configurable: true }),
  'an accessor': {
    get at() {
      return 1;
    },
  },
  'an accessor that is inherited': new (class extends Base {})(),
  nothing: {},
  'a list': [],
  'a function': () => {},
});

test('a value is put at any property until close, and all is as it was then', () => {
  for (const [, target] of Object.entries(targets())) {
    const before = descriptorsOf(target);
    const ledger = openLedger({ rules: 'loose' });
    for (const key of ['at', 'inherited', Symbol.for('at')]) {
      const position = ledger.standIn<{ read(): void }>('position');
      expect(ledger.place(target, key, position)).toBe(position);
      expect(Reflect.get(target, key)).toBe(position);
      (Reflect.get(target, key) as typeof position).read();
      check(once(call(position.read)));
    }
    ledger.place(target, 'at', 2);
    ledger.close();
    expect(descriptorsOf(target)).toEqual(before);
  }
});

test('what cannot be placed is refused', () => {
  const ledger = openLedger({ rules: 'loose' });
  const refused: readonly [() => unknown, RegExp][] = [
    [() => ledger.place(5 as never, 'at', 1), /^place\(5, "at"\): the first is the object/],
    [() => ledger.place({}, null as never, 1), /^place\(\{\}, null\): the second is the property's name/],
    [() => ledger.place(globalThis, 'Promise', 1), /Ekkon uses Promise itself, so nothing can be put in its place/],
    [() => ledger.place(Object.freeze({}), 'at', 1), /the object is not extensible/],
    [() => ledger.place(Object.freeze({ at: 1 }), 'at', 2), /not configurable/],
    [() => ledger.place(new Proxy({}, { get: () => 5 }), 'at', 2), /has no effect on reading it/],
    [
      () => ledger.takeOver({} as { at?: () => void }, 'at'),
      /it has no such member, own or inherited\. To put something there: ledger\.place\(target, "at", ledger\.standIn\("at"\)\)/,
    ],
  ];
  for (const [run, message] of refused) expect(run).toThrow(message);
  ledger.close();
  expect(() => ledger.place({}, 'at', 1)).toThrow(/closed/);
});

test('a callable is a plain function with the members that are named', () => {
  const ledger = openLedger({ rules: 'loose' });
  const query = ledger.callable<{ (table: string): number; raw(sql: string): string }>('query', { members: ['raw'] });
  query('stars');
  query.raw('select 1');
  check(once(call(query, ['stars'])), once(call(query.raw, ['select 1'])));
  expect(Object.getPrototypeOf(query)).toBe(Function.prototype);
  for (const key of ['handleEvent', 'defaultProps', 'then', 'toJSON']) expect(key in query).toBe(false);
  expect(`${query} ${ledger.entries(call(query.raw))[0]?.label}`).toBe('[callable query] query.raw');
  expect(() => ledger.callable('other', { members: 'raw' as never })).toThrow(/^callable\(\): members must be a list of names/);
});

const { setTimeout: real } = globalThis;
afterEach(() => {
  vi.useRealTimers();
});

/** Fake time and a recorded timer in each order that a test has them in. */
const orders: Readonly<Record<string, (ledger: Ledger) => void>> = {
  'faked before, and restored in the body': (ledger) => {
    vi.useFakeTimers();
    ledger.observe(globalThis, 'setTimeout');
    setTimeout(() => {}, 5);
    vi.useRealTimers();
  },
  'faked before, and restored after the test': (ledger) => [vi.useFakeTimers(), ledger.observe(globalThis, 'setTimeout'), setTimeout(() => {}, 5)],
  'faked after, and restored in the body': (ledger) => {
    ledger.observe(globalThis, 'setTimeout');
    vi.useFakeTimers();
    vi.useRealTimers();
    clearTimeout(setTimeout(() => {}, 5));
  },
};

test.each(Object.entries(orders))('a timer is recorded, and put back, though time is %s', async (_, run) => {
  await withLedger({ rules: 'loose' }, (ledger) => {
    run(ledger);
    expect(ledger.entries().map(({ label }) => label)).toEqual(['globalThis.setTimeout']);
  });
  vi.useRealTimers();
  expect(setTimeout).toBe(real);
});

test('what somebody else put there stays, and is told', () => {
  const target = { at: () => 1 };
  const ledger = openLedger({ rules: 'loose' });
  ledger.takeOver(target, 'at');
  target.at = () => 2;
  expect(() => ledger.close()).toThrow(ClaimError);
  expect(target.at()).toBe(2);
});
