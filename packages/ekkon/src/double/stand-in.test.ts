import { inspect, isDeepStrictEqual } from 'node:util';
import { describe, expect, test } from 'vitest';
import { call, openLedger } from '../index.ts';

type Dome = { open(): void; close(): void };

describe('a stand-in', () => {
  const ledger = openLedger({ name: 'stand-ins' });
  const dome = ledger.standIn<Dome>('dome');

  test('is an object, and prints as itself everywhere', () => {
    expect(typeof dome).toBe('object');
    expect([inspect(dome), `${dome}`, JSON.stringify({ dome })]).toEqual(['[stand-in dome]', '[stand-in dome]', '{"dome":"[stand-in dome]"}']);
  });

  test.each(['then', 'nodeType', '$$typeof', 'asymmetricMatch', Symbol.iterator, Symbol.toPrimitive])(
    'has nothing where a promise, a runner or a framework probes: %s',
    (probe) => {
      expect(Reflect.get(dome, probe)).toBeUndefined();
      expect(probe in dome).toBe(false);
    },
  );

  test('asks its proxy for a member once: from then on it is an own property', () => {
    const fresh = openLedger().standIn<Dome>('dome');
    expect(Object.keys(fresh)).toEqual([]);
    const { open } = fresh;
    expect(Object.keys(fresh)).toEqual(['open']);
    expect(fresh.open).toBe(open);
    expect(open.name).toBe('open');
  });

  test('of the same name is another one, told apart in reports', () => {
    const own = openLedger();
    const [first, second] = [own.standIn<Dome>('dome'), own.standIn<Dome>('dome')];
    second.open();
    expect(`${second}`).toBe('[stand-in dome~2]');
    expect([own.entries(call(first.open)).length, own.entries(call(second.open)).length]).toEqual([0, 1]);
  });
});

test('stand-ins by destructuring are named after their keys, and the same each time', () => {
  const all = openLedger().standIns<{ dome: Dome; mount: { park(): void } }>();
  expect([`${all.dome}`, `${all.mount}`]).toEqual(['[stand-in dome]', '[stand-in mount]']);
  expect(all.dome).toBe(all.dome);
  expect(isDeepStrictEqual(Reflect.get(all, 'then'), undefined)).toBe(true);
});
