import { Readable } from 'node:stream';
import { isDeepStrictEqual } from 'node:util';
import { describe, expect, test } from 'vitest';
import { anyValue, partsOf } from '../../tests/any-value.ts';
import { messageOf } from '../../tests/failure.ts';
import { forAll } from '../../tests/for-all.ts';
import { call, check, never, once, openLedger, summary } from '../index.ts';
import { compare, fitOf } from '../match/compare.ts';
import { printValue } from '../notation/value.ts';
import { copyOf } from './copy.ts';
import { encode } from './encode.ts';
import { isGap } from './gap.ts';
import { present } from './present.ts';
import { Snapshot } from './snapshot.ts';

class Frame {
  id = 'frame-1';
  at = { ra: 83.6 };
}

/** More properties than an engine keeps in place, one of which a literal could not have. */
function many(): object {
  const frame = Object.assign(new Frame(), Object.fromEntries(Array.from({ length: 40 }, (_, at) => [`k${at}`, { at }])));
  Object.defineProperty(frame, '__proto__', { value: { own: 1 }, enumerable: true, writable: true, configurable: true });
  return Object.assign(frame, { self: frame });
}

describe('a copy', () => {
  test('is deeply equal to its value, and shares no object with it', () => {
    const objectsIn = (value: unknown): readonly object[] =>
      typeof value !== 'object' || value === null ? [] : [value, ...partsOf(value).flatMap(objectsIn)];
    forAll(100, anyValue({ withNullPrototype: true }), (value) => {
      const copy = copyOf(value);
      const originals = new Set(objectsIn(value));
      expect(isDeepStrictEqual(copy, value)).toBe(true);
      expect(objectsIn(copy).some((part) => originals.has(part))).toBe(false);
    });
  });

  const kinds: readonly [string, object][] = [
    ['an instance', new Frame()],
    ['an instance of many properties', many()],
    ['an error with its cause', new RangeError('too far', { cause: { at: [1] } })],
    ['several errors', new AggregateError([new Error('wind')], 'night lost')],
    ['a regexp and where it stands', Object.assign(/a/gi, { lastIndex: 3 })],
    ['an invalid date', new Date(Number.NaN)],
    ['a view', new DataView(new Uint8Array([1, 2, 3]).buffer, 1)],
    ['a part of a buffer', new Uint16Array(new ArrayBuffer(8), 2, 2)],
    ['a subclass of a map', new (class Stars extends Map<string, number> {})([['Velmira', 1]])],
    ['a boxed text with more on it', Object.assign(Object('a'), { more: 1 })],
    ['an array with names', Object.assign([1], { groups: { a: 1 } })],
    ['an array with a symbol', Object.assign([1], { [Symbol.for('unit')]: 'mm' })],
    ['a boxed number', Object(5)],
    ['symbol keys', { [Symbol.for('velmira')]: { a: 1 } }],
  ];
  test.each(kinds)('keeps what it is, and is another object: %s', (_, value) => {
    const copy = copyOf(value);
    expect(copy).not.toBe(value);
    expect(Object.getPrototypeOf(copy)).toBe(Object.getPrototypeOf(value));
    expect(compare(value, copy)).toEqual([]);
    expect(printValue(copy)).toBe(printValue(value));
    // As entries() and predicates have it.
    const shown = present(copy, () => undefined) as object;
    expect([compare(value, shown), shown === copy]).toEqual([[], false]);
  });

  const kept: readonly [string, object][] = [
    ['functions', () => 1],
    ['promises', Promise.resolve()],
    ['weak collections', new WeakMap()],
    ['stand-ins', openLedger().standIn<object>('dome')],
  ];
  test.each(kept)('is the value itself: %s', (_, value) => {
    expect(copyOf({ value }).value).toBe(value);
  });

  test('names in prose, and private methods, are no private fields', () => {
    class Plain {
      colour = '#fff'; // #this
      text = "a #b = 'c'";
      #shade() {
        return this.colour;
      }
      shown() {
        return this.#shade();
      }
    }
    expect(copyOf(new Plain())).not.toBe(undefined);
    const value = new Plain();
    expect(copyOf(value)).not.toBe(value);
  });

  test('runs nothing of the caller’s', () => {
    const ran: string[] = [];
    const note = (what: string) => () => {
      ran.push(what);
      return what;
    };
    class Loud extends Map<string, number> {
      override get size() {
        ran.push('size');
        return 0;
      }
      override forEach() {
        ran.push('forEach');
      }
      override [Symbol.iterator]() {
        ran.push('iterator');
        return super[Symbol.iterator]();
      }
      static override get [Symbol.species]() {
        ran.push('species');
        return Map;
      }
      override get [Symbol.toStringTag]() {
        ran.push('tag');
        return 'Loud';
      }
    }
    const list = [1];
    Object.defineProperty(list, 1, { get: note('item'), enumerable: true });
    const value = {
      get read() {
        return note('getter')();
      },
      set written(_: number) {
        ran.push('setter');
      },
      toJSON: note('toJSON'),
      valueOf: note('valueOf'),
      toString: note('toString'),
      [Symbol.toPrimitive]: note('toPrimitive'),
      loud: new Loud([['a', 1]]),
      list,
      made: Object.create(Object.create(Object.prototype, { constructor: { get: note('constructor') } })),
    };
    const copy = copyOf(value);
    const ledger = openLedger();
    const store = ledger.callable<(value: unknown) => void>('store');
    store(value);
    check(once(call(store, [value])));
    expect(() => check(never(call(store, [value])))).toThrow();
    summary(ledger);
    encode(copy, String);
    expect(ran).toEqual([]);
    expect(isGap(Object.getOwnPropertyDescriptor(copy, 'read')?.value)).toBe(true);
  });
});

/** Values made to throw, to lie or to exhaust whoever looks at them. */
function hostileValues(): readonly [string, unknown][] {
  const fail = (): never => {
    throw new Error('hostile');
  };
  const traps = Object.fromEntries(
    ['get', 'has', 'ownKeys', 'getOwnPropertyDescriptor', 'getPrototypeOf', 'isExtensible'].map((trap) => [trap, fail]),
  );
  const { proxy: revoked, revoke } = Proxy.revocable({}, {});
  revoke();
  const { proxy: revokedFunction, revoke: revokeToo } = Proxy.revocable(() => 1, {});
  revokeToo();
  let deep: object = {};
  for (let at = 0; at < 100_000; at++) deep = { deep };
  const own: Record<string, unknown> = {};
  Object.setPrototypeOf(own, { key: own });
  const detached = new ArrayBuffer(8);
  const view = new Uint8Array(detached);
  const getOwnPropertyDescriptor = () => ({ value: 1, enumerable: true, configurable: true });
  const endless = { ownKeys: () => Array.from({ length: 110_000 }, (_, at) => `k${at}`), getOwnPropertyDescriptor };
  structuredClone(detached, { transfer: [detached] });
  return [
    ['a getter that throws', Object.defineProperty({}, 'a', { get: fail, enumerable: true })],
    ['a revoked proxy', revoked],
    ['a revoked proxy of a function', revokedFunction],
    ['a proxy all of whose traps throw', new Proxy({}, traps)],
    ['a proxy with endless keys', new Proxy({}, endless)],
    ['an object that is its own prototype’s key', own],
    ['nesting 100,000 deep', deep],
    ['an array of a million items', Array.from({ length: 1_000_000 }, (_, at) => at)],
    ['a sparse array of four thousand million', Object.assign([], { length: 2 ** 32 - 1 })],
    ['110,000 properties', Object.fromEntries(Array.from({ length: 110_000 }, (_, at) => [`k${at}`, at]))],
    ['a map of 50,000 objects', new Map(Array.from({ length: 50_000 }, (_, at) => [{ at }, at]))],
    ['a set of 20,000 objects', new Set(Array.from({ length: 20_000 }, (_, at) => ({ at })))],
    ['a detached buffer', detached],
    ['a view of a detached buffer', view],
    ['a fake date', Object.create(Date.prototype)],
    ['a fake map', Object.create(Map.prototype)],
    ['a fake promise', Object.create(Promise.prototype)],
    [
      'a class that refuses to be printed',
      class {
        static toString = fail;
        static get name(): never {
          return fail();
        }
      },
    ],
    ['a text of ten million characters', 'x'.repeat(10_000_000)],
    ['the global object', globalThis],
  ];
}

describe('hostile values neither throw out of Ekkon nor hang it', () => {
  test.each(hostileValues())('%s', (_, value) => {
    const ledger = openLedger();
    const store = ledger.callable<(value: unknown) => void>('store');
    store(value);
    store({ value });
    const fit = fitOf(copyOf(value), copyOf(value));
    expect(['fits', 'undecided']).toContain(fit);
    for (const claimed of [value, { value }, { other: value }, [value], 1])
      expect(messageOf(() => check(once(call(store, [claimed])))).length).toBeLessThan(10_000);
    expect(printValue(value).length).toBeLessThan(20_000);
    expect(summary(ledger).length).toBeLessThan(10_000);
  });

  test('a fake does not make real ones hidden', () => {
    copyOf(Object.create(Date.prototype));
    expect(compare(copyOf(new Date(0)), copyOf(new Date(1)))).toMatchObject([{ kind: 'changed' }]);
  });
});

test('of a stream the primitives that show its purpose are copied, and of other things with an identity nothing', () => {
  const sent = Object.assign(new Readable(), { method: 'PUT', url: '/frames', path: ['frames'], size: 3 });
  Object.defineProperty(sent, 'originalUrl', { get: () => expect.unreachable() });
  const copied: unknown = copyOf(sent);
  expect(copied).toBeInstanceOf(Snapshot);
  expect((copied as Snapshot).content).toEqual({ method: 'PUT', url: '/frames' });
  for (const other of [new Readable(), Object.assign(new EventTarget(), { method: 'PUT' })]) expect(copyOf(other)).toBe(other);
});
