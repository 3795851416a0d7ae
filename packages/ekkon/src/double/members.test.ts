import { describe, expect, test } from 'vitest';
import { call, check, computes, gives, never, once, openLedger, plan, reads, times, writes } from '../index.ts';

describe('members that are not there as values', () => {
  test('a global that is not there yet is there until the ledger is closed', () => {
    const ledger = openLedger({ rules: 'loose' });
    const define = ledger.takeOver<(name: string) => number>(globalThis, 'defineDevice', { absent: true });
    plan(call(define, ['dome']), gives(4));
    expect((globalThis as unknown as { defineDevice(name: string): number }).defineDevice('dome')).toBe(4);
    check(once(call(define, ['dome'])));
    ledger.close();
    expect('defineDevice' in globalThis).toBe(false);
    expect(() => openLedger().takeOver(globalThis, 'defineDevice' as never)).toThrow(/it has no such member/);
  });

  test('what a compiled module exports through an accessor is a method, and is put back as it was', () => {
    const real = (minutes: number) => minutes * 2;
    const tariff = Object.defineProperty({}, 'priceFor', { enumerable: true, configurable: true, get: () => real }) as {
      priceFor(minutes: number): number;
    };
    const before = Object.getOwnPropertyDescriptor(tariff, 'priceFor');
    const ledger = openLedger({ rules: 'loose' });
    ledger.observe(tariff, 'priceFor');
    expect(tariff.priceFor(3)).toBe(6);
    check(once(call(tariff.priceFor, [3])));
    ledger.close();
    expect(Object.getOwnPropertyDescriptor(tariff, 'priceFor')).toEqual(before);
  });

  test('an accessor that somebody wrote for a property is not run, and its reads are recorded', () => {
    let ran = 0;
    class Gauge {
      get read() {
        ran++;
        return () => 5;
      }
      set read(_: () => number) {}
    }
    const ledger = openLedger({ rules: 'loose' });
    const gauge = new Gauge();
    ledger.observe(gauge, 'read');
    expect(ran).toBe(0);
    expect(gauge.read()).toBe(5);
    check(once(reads(gauge, 'read')));
  });
});

describe('a stand-in', () => {
  type Store = { read(): number; save(): void; $get(): number };
  test('has no members that only a framework would ask for, unless they are named', () => {
    const ledger = openLedger({ rules: 'loose' });
    const plain = ledger.standIn<Record<string, unknown>>('plain');
    for (const probe of ['then', '$$typeof', '_isVue', '__v_isRef', '$get', '@@observable', 'nodeType'])
      expect([probe, plain[probe]]).toEqual([probe, undefined]);
    const store = ledger.standIn<Store>('store', undefined, { also: ['$get'] });
    store.$get();
    store.read();
    check(once(call(store.$get)), once(call(store.read)));
    expect(ledger.standIn<Store>('fake', { $get: () => 7 }).$get()).toBe(7);
  });

  test('with named members has those and no others', () => {
    const ledger = openLedger({ rules: 'loose' });
    const store = ledger.standIn<Store>('store', undefined, { members: ['read', 'save'] });
    expect(Object.keys(store)).toEqual(['read', 'save']);
    expect(['read' in store, '$get' in store, (store as unknown as { other: unknown }).other]).toEqual([true, false, undefined]);
    store.read();
    check(once(call(store.read)), never(call(store.save)));
    class Real {
      read() {}
      save() {}
    }
    const shaped = ledger.standIn('shaped', Real, { members: ['read'] });
    expect([typeof shaped.read, shaped.save]).toEqual(['function', undefined]);
    expect(() => ledger.standIn('wrong', undefined, { members: 'read' } as never)).toThrow(/members must be a list of names, not "read"/);
  });
});

test('what is written to members of members is recorded, and read from then on', () => {
  type Siren = { readonly tone: { pitch: number; readonly curve: { end: number } } };
  const ledger = openLedger({ rules: 'loose' });
  const siren = ledger.standIn<Siren>('siren');
  siren.tone.pitch = 440;
  siren.tone.pitch = 880;
  siren.tone.curve.end = 5;
  check(once(writes(siren.tone, 'pitch', 440)), times(2, writes(siren.tone, 'pitch')), once(writes(siren.tone.curve, 'end', 5)));
  expect([siren.tone.pitch, siren.tone.curve.end]).toEqual([880, 5]);
  expect(ledger.entries().map(({ label, kind }) => `${kind} ${label}`)).toEqual([
    'write siren.tone.pitch',
    'write siren.tone.pitch',
    'write siren.tone.curve.end',
  ]);
});

test('reads of members of members are recorded from the first pattern on, and planned', () => {
  type Panel = { readonly view: { readonly angle: number; readonly zoom: { readonly level: number }; draw(): void } };
  const ledger = openLedger({ rules: 'loose' });
  const panel = ledger.standIn<Panel>('panel');
  plan(reads(panel.view, 'angle'), gives(30), gives(45));
  plan(reads(panel.view.zoom, 'level'), gives(2));
  expect([panel.view.angle, panel.view.angle, panel.view.zoom.level]).toEqual([30, 45, 2]);
  check(times(2, reads(panel.view, 'angle')), once(reads(panel.view.zoom, 'level')));
  panel.view.draw();
  expect(() => reads(panel.view, 'draw')).toThrow('it was read before, and that was not recorded, or it is a function');
});

test('a stand-in is disposed of by using, and by await using if it is said to be', async () => {
  const ledger = openLedger({ rules: 'loose' });
  type Shutter = { open(): void } & Disposable & AsyncDisposable;
  const shutter = ledger.standIn<Shutter>('shutter');
  {
    using own = shutter;
    own.open();
  }
  const slow = ledger.standIn<Shutter>('slow', undefined, { also: [Symbol.asyncDispose] });
  {
    await using own = slow;
    own.open();
  }
  check(once(call(shutter[Symbol.dispose])), once(call(slow[Symbol.asyncDispose])));
  // What the symbols are called differs between versions of the platform.
  const labels = ledger.entries().map(({ label }) => label.replace(/\[\w+\./, '['));
  expect(labels).toEqual(['shutter.open', 'shutter[dispose]', 'slow.open', 'slow[asyncDispose]']);
  expect(Symbol.asyncDispose in shutter).toBe(false);
});

test('a generator of a class answers with an iteration that has no items, until it is planned', async () => {
  class Archive {
    *names() {
      yield 'frame-1';
    }
    async *frames() {
      yield 7;
    }
  }
  const ledger = openLedger({ rules: 'loose' });
  const real = new Archive();
  ledger.takeOver(real, 'frames');
  const archive = ledger.standIn('archive', Archive);
  const read = async () => {
    const found: unknown[] = [...archive.names()];
    for (const frames of [archive.frames(), real.frames()]) for await (const frame of frames) found.push(frame);
    return found;
  };
  expect(await read()).toEqual([]);
  plan(
    call(archive.frames),
    computes(async function* () {
      yield 8;
    }),
  );
  expect(await read()).toEqual([8]);
  check(times(2, call(archive.names)), times(2, call(archive.frames)), times(2, call(real.frames)));
});
