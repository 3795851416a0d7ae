import { allItems, between, call, check, gives, includes, not, once, openLedger, plan, sized, typeOf, unordered } from 'ekkon';
import { enableMapSet, produce } from 'immer';
import * as mobx from 'mobx';
import { expect, test } from 'vitest';
import { reactive, readonly, ref, shallowReactive, toRaw } from 'vue';
import { recording } from '../../packages/ekkon/tests/standing.ts';

type Exposure = { seconds: number; at: { ra: number; dec: number }; stars: { name: string }[] };

const exposure = (): Exposure => ({ seconds: 30, at: { ra: 83.6, dec: 22 }, stars: [{ name: 'Velmira' }, { name: 'Oriane' }] });

/** What frameworks make of an object, given to `use` while it can be read. */
const made: Readonly<Record<string, (use: (value: object) => void) => void>> = {
  'a reactive object of vue': (use) => use(reactive(exposure())),
  'a shallow reactive object of vue': (use) => use(shallowReactive(exposure())),
  'a readonly object of vue': (use) => use(readonly(exposure())),
  'the value of a ref of vue': (use) => use(ref(exposure()).value),
  'a draft of immer': (use) => void produce(exposure(), (draft) => use(draft)),
  'what immer produced': (use) => use(produce(exposure(), () => {})),
  'an observable object of mobx': (use) => use(mobx.observable(exposure())),
};

test.each(Object.entries(made))('%s is claimed as what was passed', (_, give) => {
  give((value) => {
    const recorded = recording(value);
    expect(recorded.is(value)).toBe('holds');
    expect(recorded.is(exposure())).toBe('holds');
    expect(recorded.isNot(exposure())).toBe('fails');
    expect(recorded.is({ ...exposure(), seconds: 31 })).toBe('fails');
    expect(recorded.is({ ...exposure(), at: { ra: 83.6, dec: 23 } })).toBe('fails');
    expect(recorded.has({ stars: [{ name: 'Velmira' }, { name: 'Oriane' }] })).toBe('holds');
    expect(recorded.has({ stars: [{ name: 'Velmira' }] })).toBe('fails');
  });
});

test('what a proxy held when it was recorded is claimed, whatever became of it', () => {
  const state = reactive(exposure());
  const recorded = recording(state);
  state.seconds = 60;
  expect(recorded.is(exposure())).toBe('holds');
  expect(recorded.is(state)).toBe('holds');
  expect(recorded.is(toRaw(state))).toBe('fails');

  let draft: unknown;
  produce(exposure(), (given) => {
    draft = given;
  });
  // Its proxy is revoked by now, and it is still what it was.
  const late = recording(draft);
  expect(late.is(draft)).toBe('holds');
  expect(late.is(exposure())).toBe('undecided');
});

class Night {
  seconds = 30;
  stars = new Map([['Velmira', { ra: 83.6 }]]);
  constructor() {
    mobx.makeAutoObservable(this);
  }
  get double() {
    return 2 * this.seconds;
  }
}

test('what mobx observes is claimed by what it holds', () => {
  const list = recording(mobx.observable([1, { a: 2 }]));
  expect([list.is([1, { a: 2 }]), list.is([1, { a: 3 }])]).toEqual(['holds', 'fails']);
  const map = recording(mobx.observable(new Map([['Velmira', { a: 2 }]])));
  expect(map.is(new Map([['Velmira', { a: 2 }]]))).toBe('holds');
  expect(map.is(new Map([['Velmira', { a: 3 }]]))).toBe('fails');
  const set = recording(mobx.observable(new Set([1, 2])));
  expect([set.is(new Set([2, 1])), set.is(new Set([1]))]).toEqual(['holds', 'fails']);
  const night = recording(new Night());
  expect([night.is(new Night()), night.has({ seconds: 30 })]).toEqual(['holds', 'holds']);
  expect(night.has({ seconds: 31 })).toBe('fails');
  const longer = new Night();
  longer.stars.set('Oriane', { ra: 84 });
  expect(night.is(longer)).toBe('fails');
});

const stars = () =>
  new Map([
    ['Velmira', { ra: 83.6 }],
    ['Oriane', { ra: 84 }],
  ]);

test('what vue and immer make of collections is claimed as what was passed', () => {
  const give: readonly ((use: (value: unknown) => void) => void)[] = [
    (use) => use([reactive(stars()), reactive(new Set([1, { a: 2 }]))]),
    (use) => use([readonly(reactive(stars())), shallowReactive(new Set([1, { a: 2 }]))]),
    (use) => [enableMapSet(), produce({ map: stars(), set: new Set([1, { a: 2 }]) }, ({ map, set }) => use([map, set]))],
  ];
  for (const each of give)
    each((value) => {
      const recorded = recording(value);
      expect(recorded.is(value)).toBe('holds');
      expect(recorded.is([stars(), new Set([{ a: 2 }, 1])])).toBe('holds');
      expect(recorded.isNot([stars(), new Set([{ a: 2 }, 1])])).toBe('fails');
      expect(recorded.is([stars().set('Oriane', { ra: 85 }), new Set([{ a: 2 }, 1])])).toBe('fails');
      expect(recorded.is([sized(2), includes({ a: 2 })])).toBe('holds');
    });
});

test('a proxy of a collection or a date that nobody tells of is undecided, not another value', () => {
  const claims: readonly (readonly [object, readonly unknown[]])[] = [
    [new Map([[1, 2]]), [new Map([[1, 2]]), new Map([[1, 3]]), sized(1)]],
    [new Set([1]), [new Set([1]), includes(1), allItems(1), unordered([1])]],
    [new Date(0), [new Date(0), between(new Date(0), new Date(5))]],
    [new Uint8Array([1]), [new Uint8Array([1])]],
  ];
  for (const [value, claimed] of claims) {
    const proxy = new Proxy(value, {});
    const recorded = recording(proxy);
    expect([recorded.is(proxy), recorded.is(typeOf('object'))]).toEqual(['holds', 'holds']);
    expect(recorded.is(5)).toBe('fails');
    for (const each of claimed)
      expect([recorded.is(each), recorded.isNot(each), recorded.is(not(each))]).toEqual(['undecided', 'undecided', 'undecided']);
  }
  const address = recording(new Proxy(new URL('http://archive.example'), {}));
  expect(address.isNot(new URL('http://archive.example'))).toBe('undecided');
});

test.each(['reactive', 'readonly', 'ref', 'observable'] as const)('a stand-in answers and is recorded inside what frameworks make: %s', (kind) => {
  const ledger = openLedger({ rules: 'loose' });
  const dome = ledger.standIn<{ open(to: number): number }>('dome');
  plan(call(dome.open), gives(4));
  const inside = {
    reactive: () => reactive({ dome }).dome,
    readonly: () => readonly(dome),
    ref: () => ref(dome).value,
    observable: () => mobx.observable({ dome }).dome,
  }[kind]();
  expect(inside.open(7)).toBe(4);
  check(once(call(dome.open, [7])));
});
