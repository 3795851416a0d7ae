import { isDeepStrictEqual } from 'node:util';
import fc from 'fast-check';
import * as valibot from 'valibot';
import { describe, expect, test } from 'vitest';
import * as zod from 'zod';
import { failureOf } from '../../tests/failure.ts';
import { forAll } from '../../tests/for-all.ts';
import { once } from '../claim/count.ts';
import { openLedger } from '../ledger/open-ledger.ts';
import { printValue } from '../notation/value.ts';
import { call } from '../pattern/call.ts';
import { plan } from '../plan/plan.ts';
import { gives } from '../plan/reply.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Fit } from '../value/comparison.ts';
import { copyOf } from '../value/copy.ts';
import type { Difference } from '../value/difference.ts';
import { pairUp } from '../value/pair-up.ts';
import { reveal } from '../value/revealed.ts';
import { check } from '../wait/check.ts';
import { missing, nullish } from './absence.ts';
import { anything } from './anything.ts';
import { allItems, includes, sized, unordered } from './collections.ts';
import { compare, fitOf } from './compare.ts';
import { defineMatcher } from './define-matcher.ts';
import { identical } from './identical.ts';
import { jsonText } from './json-text.ts';
import { allOf, anyOf, not } from './logic.ts';
import type { Matcher, Predicate } from './matcher.ts';
import { about, between } from './numbers.ts';
import { ofSchema } from './of-schema.ts';
import { partial } from './partial.ts';
import { suchThat } from './such-that.ts';
import { endsWith, startsWith, textLike } from './texts.ts';
import { instanceOf, typeOf } from './type-of.ts';

class WeatherError extends Error {}
class Gauge {
  #celsius: number;
  constructor(celsius: number) {
    this.#celsius = celsius;
  }
  read(): number {
    return this.#celsius;
  }
}
const frame = { id: 'frame-1', seconds: 30 };
const day = (date: number) => new Date(Date.UTC(2031, 4, date));

/** What each matcher prints as, what it accepts, and what it does not. */
const table: Readonly<Record<string, readonly [Matcher<unknown> | Predicate<never>, readonly unknown[], readonly unknown[]]>> = {
  anything: [anything, [null, undefined, 0, [], frame], []],
  nullish: [nullish, [null, undefined], [0, '', false]],
  missing: [missing, [], [undefined, null]],
  'typeOf("string")': [typeOf('string'), ['', 'a'], [Object('a'), 1, null]],
  'typeOf("object")': [typeOf('object'), [{}, [], new Date()], [null, () => 1]],
  'typeOf("function")': [typeOf('function'), [() => 1, Gauge], [{}]],
  'typeOf("undefined")': [typeOf('undefined'), [undefined], [null]],
  'instanceOf(Error)': [instanceOf(Error), [new Error(), new WeatherError()], [{ message: '' }, 'Error', null]],
  'instanceOf(Gauge)': [instanceOf(Gauge), [new Gauge(1)], [{}, Gauge]],
  'instanceOf(Function)': [instanceOf(Function), [() => 1, Gauge], [{}, 'f', null]],
  'instanceOf(Map)': [instanceOf(Map), [new Map()], [new Set()]],
  'about(30)': [about(30), [30, 30.00001], [30.1, '30', Number.NaN, 30n]],
  'about(0.3)': [about(0.3), [0.1 + 0.2], [0.3001]],
  'about(22, 0.5)': [about(22, 0.5), [21.5, 22.5], [21.4, 22.6]],
  'about(Infinity)': [about(Number.POSITIVE_INFINITY), [Number.POSITIVE_INFINITY], [1, Number.NEGATIVE_INFINITY]],
  'between(0, 24)': [between(0, 24), [0, 24, 12.5], [-0.1, 24.1, Number.NaN, 12n, '12']],
  'between(1n, 3n)': [between(1n, 3n), [1n, 3n], [0n, 2]],
  'between(new Date("2031-05-01T00:00:00.000Z"), new Date("2031-05-03T00:00:00.000Z"))': [
    between(day(1), day(3)),
    [day(1), day(2)],
    [day(4), day(2).getTime(), new Date(Number.NaN)],
  ],
  'textLike(/^frame-\\d+/g)': [textLike(/^frame-\d+/g), ['frame-1', 'frame-22 stored'], ['a frame-1', 1]],
  'startsWith("night")': [startsWith('night'), ['night', 'night begins'], ['a night', ['night']]],
  'endsWith(".fits")': [endsWith('.fits'), ['a.fits'], ['a.fits.gz']],
  'includes("rain")': [includes('rain'), ['it rains', ['rain'], new Set(['rain'])], ['dry', ['rains'], {}, 1]],
  'includes({ id: "frame-1", seconds: about(30) })': [
    includes({ id: 'frame-1', seconds: about(30) }),
    [[1, frame], new Set([frame])],
    [[{ id: 'frame-1' }], 'frame-1'],
  ],
  'includes(2)': [includes(2), [new Uint8Array([1, 2])], ['2']],
  'partial({ seconds: 30 })': [
    partial({ seconds: 30 }) as unknown as Matcher<never>,
    [frame, { seconds: 30 }],
    [{ seconds: 31 }, { id: 'frame-1' }, 30, null],
  ],
  'partial({ at: partial({ dec: 22 }), id: missing })': [
    partial({ at: partial({ dec: 22 }), id: missing }) as unknown as Matcher<never>,
    [{ at: { dec: 22, ra: 1 } }],
    [{ at: { ra: 1 } }, { at: { dec: 22 }, id: 1 }],
  ],
  'partial({ at: { dec: 22 } })': [
    partial({ at: { dec: 22 } }) as unknown as Matcher<never>,
    [{ at: { dec: 22 }, more: 1 }],
    [{ at: { dec: 22, ra: 1 } }],
  ],
  'jsonText({ id: 4, at: about(1) })': [jsonText({ id: 4, at: about(1) }), ['{"at":1, "id":4}'], ['{"id":4}', '{', 4, { id: 4, at: 1 }]],
  'allItems(typeOf("number"))': [allItems(typeOf('number')), [[], [1, 2], new Set([1]), new Uint8Array(2)], [[1, 'a'], 'a', {}]],
  'sized(0)': [sized(0), [[], '', new Set()], [[1], ' ']],
  'sized(2)': [sized(2), [[1, 2], 'ab', new Set([1, 2]), new Map(Object.entries({ a: 1, b: 2 })), new ArrayBuffer(2)], [[1], { length: 2 }, 2]],
  'unordered([1, { a: 2 }])': [
    unordered([1, { a: 2 }]),
    [[1, { a: 2 }], [{ a: 2 }, 1], new Set([{ a: 2 }, 1])],
    [[1], [1, 1, { a: 2 }], [1, { a: 3 }], 1],
  ],
  'unordered([anything, 1])': [
    unordered([anything, 1]),
    [
      [1, 2],
      [2, 1],
      [1, 1],
    ],
    [[2, 3]],
  ],
  'not("red")': [not('red'), ['blue', 1], ['red']],
  'not(partial({ id: "frame-1" }))': [not(partial({ id: 'frame-1' })), [{ id: 'frame-2' }, 1], [frame]],
  'allOf(sized(2), includes(1))': [allOf(sized(2), includes(1)), [[1, 2]], [[1], [2, 3]]],
  'anyOf("red", about(3))': [anyOf('red', about(3)), ['red', 3], ['blue', 4]],
  'anyOf({ id: "frame-1" }, nullish)': [anyOf({ id: 'frame-1' }, nullish), [{ id: 'frame-1' }, null], [{ id: 2 }]],
  'suchThat("a long one")': [suchThat((one: typeof frame) => one.seconds > 10, 'a long one'), [frame], [{ seconds: 1 }]],
  'suchThat("(one) => one > 1")': [suchThat((one) => (one as number) > 1), [2], [1]],
  'identical(5)': [identical(5), [5], [6, '5']],
  'ofSchema(zod)': [ofSchema(zod.object({ seconds: zod.number() })), [frame], [{ seconds: '30' }, 1]],
  'ofSchema(valibot)': [ofSchema(valibot.object({ seconds: valibot.number() })), [frame], [{ seconds: '30' }, 1]],
};

test.each(Object.entries(table))('%s', (prints, [matcher, accepted, refused]) => {
  expect(printValue(matcher, { width: Number.POSITIVE_INFINITY })).toBe(prints);
  for (const value of accepted) {
    expect(compare(matcher, copyOf(value))).toEqual([]);
    // The same at any depth of plain values, and in a plan.
    expect(compare({ a: [matcher], b: new Map([['c', matcher]]) }, copyOf({ a: [value], b: new Map([['c', value]]) }))).toEqual([]);
    const member = openLedger().callable<(value: unknown) => unknown>('member');
    plan(call(member, [matcher]), gives('planned'));
    expect(member(value)).toBe('planned');
  }
  for (const value of refused) {
    expect(compare(matcher, copyOf(value))).not.toEqual([]);
    expect(compare([{ a: matcher }], [{ a: copyOf(value) }])[0]?.path.slice(0, 2)).toEqual([0, 'a']);
  }
});

describe('a matcher says where a value does not fit', () => {
  const cases: readonly [string, unknown, unknown, readonly Partial<Difference>[]][] = [
    ['partial', partial({ at: { dec: 22, ra: about(1) } }), { at: { dec: 0, ra: 1 }, more: 1 }, [{ path: ['at', 'dec'], kind: 'changed' }]],
    ['allItems', allItems({ a: 1 }), [{ a: 1 }, { a: 2 }], [{ path: [1, 'a'] }]],
    ['unordered', unordered([{ a: 1 }, { a: 2 }]), [{ a: 2 }, { a: 3 }], [{ path: [1, 'a'], expected: 1, received: 3 }]],
    ['jsonText', jsonText({ to: { name: 'Ada' } }), '{"to":{"name":"Ida"}}', [{ path: ['to', 'name'], expected: 'Ada', received: 'Ida' }]],
    ['missing', { filter: missing }, { filter: 'red' }, [{ path: ['filter'], kind: 'surplus' }]],
    ['zod', ofSchema(zod.object({ at: zod.object({ dec: zod.number() }) })), { at: { dec: 'x' } }, [{ path: ['at', 'dec'], received: 'x' }]],
    ['valibot', ofSchema(valibot.object({ at: valibot.object({ dec: valibot.number() }) })), { at: {} }, [{ path: ['at', 'dec'], kind: 'missing' }]],
  ];
  test.each(cases)('%s', (_, matcher, value, expected) => {
    expect(compare(matcher, copyOf(value))).toMatchObject(expected);
  });
});

test('missing stands for an argument that was not passed, and a property that is not there', () => {
  const expose = openLedger().callable<(exposure: { filter?: string }, more?: number) => void>('expose');
  expose({});
  check(once(call(expose, [{ filter: missing }, missing])), once(call(expose, [{ filter: anyOf('red', missing) }])));
});

test('identical asks for the same object at any depth, though what was recorded is a copy', () => {
  const store = openLedger().callable<(value: unknown) => void>('store');
  store({ frames: [frame] });
  check(once(call(store, [{ frames: [identical(frame)] }])));
  expect(() => check(once(call(store, [{ frames: [identical({ ...frame })] }])))).toThrow('equal to it but another object');
});

describe('what cannot be told does not hold silently', () => {
  const recorded = (value: unknown) => {
    const store = openLedger().callable<(value: unknown) => void>('store');
    store(value);
    return store;
  };
  const codes = (claim: Claim) => failureOf(claim)?.verdict.findings.map(({ code }) => code);
  const zeros = Array.from({ length: 100_001 }, () => 0);
  const lost = (): never => {
    throw new Error('no such star');
  };
  const cases: readonly [string, unknown, unknown, RegExp][] = [
    [
      'a state that is hidden',
      new Gauge(5),
      new Gauge(5),
      /Gauge hides its state; to look into it: openLedger\(\{ reveals: \[reveal\(Gauge, \(gauge\) => gauge\.read\(\)\)\] \}\)/,
    ],
    ['a value cut when recorded', zeros, [...zeros], /cut when it was recorded/],
    ['a predicate that throws', 1, suchThat(lost), /it threw Error\("no such star"\)/],
    [
      'a schema that answers later',
      1,
      ofSchema({ '~standard': { version: 1, vendor: 'later', validate: async () => ({ value: 1 }) } } as never),
      /it returned ‹Promise› instead of { value } or { issues }/,
    ],
    ...[5, true, {}, [], 'fine', { issues: 'none' }, { issues: [] }, { value: 1, issues: [{}] }].map((answer): [string, unknown, unknown, RegExp] => [
      `a schema that answers ${JSON.stringify(answer)}`,
      1,
      ofSchema({ '~standard': { version: 1, vendor: 'odd', validate: () => answer } } as never),
      /it returned .* instead of \{ value \} or \{ issues \}/,
    ]),
    ['a predicate that answers later', 1, suchThat((async () => true) as never), /it returned ‹Promise› instead of true or false/],
    [
      'a matcher of one’s own that throws',
      1,
      defineMatcher(() => ({ prints: 'x', differences: lost }))(),
      /it threw Error\("no such star"\) instead of returning true or false/,
    ],
  ];
  test.each(cases)('%s', (_, value, claimed, why) => {
    const store = recorded(value);
    for (const claim of [once(call(store, [claimed])), once(call(store, [not(claimed)])), once(call(store, [anyOf(claimed, 'x')]))]) {
      expect(codes(claim)).toEqual(['undecidedCall']);
      expect(() => check(claim)).toThrow(why);
    }
  });

  test('a literal is told from an object that hides its state as far as that can be seen', () => {
    const store = recorded(new Gauge(5));
    expect(codes(once(call(store, [{ celsius: 5 }])))).toEqual(['missingCall']);
  });

  test('what is revealed is copied when recorded, compared, described by literals and matchers, and printed', () => {
    const live = { celsius: 5 };
    class Live {
      #held = live;
      read() {
        return this.#held;
      }
    }
    const ledger = openLedger({ reveals: [reveal(Live, (one) => one.read()), reveal(Gauge, (one) => one.read())] });
    const store = ledger.callable<(...values: unknown[]) => void>('store');
    store(new Live(), new Gauge(7));
    live.celsius = 9;
    check(
      once(call(store, [{ celsius: 5 }, new Gauge(7)])),
      once(call(store, [partial({ celsius: 5 }), instanceOf(Gauge)])),
      once(call(store, [anything, anyOf(new Gauge(7), 1)])),
    );
    expect(() => check(once(call(store, [anything, new Gauge(8)])))).toThrow('store(Live { celsius: 5 }, Gauge(7))');
  });
});

test('a matcher of one’s own is used at any depth, with its own differences', () => {
  const near = defineMatcher((ra: number) => ({
    prints: `near(${ra})`,
    differences: (at: { ra: number }) =>
      Math.abs(at.ra - ra) < 1 ? [] : [{ path: ['ra'], kind: 'changed' as const, expected: ra, received: at.ra }],
  }));
  expect(compare([near(3)], [{ ra: 3.5 }])).toEqual([]);
  expect(compare([near(3)], [{ ra: 5 }])).toEqual([{ path: [0, 'ra'], kind: 'changed', expected: 3, received: 5 }]);
  const wrong = defineMatcher(() => ({ prints: 'wrong', differences: () => false as never }))();
  expect(compare(wrong, 1)).toMatchObject([{ kind: 'opaque', why: 'answer', reason: false }]);
});

test('items in any order are paired as brute force pairs them, however the undecided are decided', () => {
  const permutations = (items: readonly number[]): number[][] =>
    items.length === 0 ? [[]] : items.flatMap((item, at) => permutations(items.toSpliced(at, 1)).map((rest) => [item, ...rest]));
  const hints = { partOf: () => undefined, objectsOf: () => [], objectsOfOther: () => [] };
  const row = fc.array(fc.constantFrom<Fit>('fits', 'undecided', 'differs'), { minLength: 4, maxLength: 4 });
  forAll(500, fc.array(row, { minLength: 4, maxLength: 4 }), (fits) => {
    const places = [0, 1, 2, 3].map((at) => ({ at }));
    const most = (accepted: readonly Fit[]) =>
      Math.max(...permutations([0, 1, 2, 3]).map((order) => order.filter((other, one) => accepted.includes(fits[one]?.[other] ?? 'differs')).length));
    const { pairs, fit } = pairUp(places, places, (one, other) => fits[one.at]?.[other.at] ?? 'differs', hints);
    const [sure, likely] = [most(['fits']), most(['fits', 'undecided'])];
    expect(fit).toBe(sure === 4 ? 'fits' : likely === 4 ? 'undecided' : 'differs');
    expect(pairs).toHaveLength(likely);
    expect(pairs.every(([one, other]) => fits[one]?.[other] !== 'differs')).toBe(true);
  });
});

const wrong: readonly [string, () => unknown, RegExp][] = [
  ['typeOf', () => typeOf('text' as never), /there is no such type. These are: string/],
  ['instanceOf', () => instanceOf('Error' as never), /takes a class, and was given "Error"/],
  ['about', () => about(Number.NaN), /takes a number, and was given NaN/],
  ['about, tolerance', () => about(1, -1), /the tolerance must be a number of 0 or more, not -1/],
  ['between, order', () => between(3, 1), /the lower bound is above the upper one. Write between\(1, 3\)/],
  ['between, kinds', () => between(3, 1n as never), /bounds are two numbers, two bigints or two dates/],
  ['textLike', () => textLike('a' as never), /takes a regular expression, and was given "a". For a part of a text write includes\("a"\)/],
  ['startsWith', () => startsWith(''), /takes a string that is not empty/],
  ['includes', () => includes(''), /would accept every text/],
  ['partial, empty', () => partial({}), /has no property, so it would accept every object/],
  ['partial, no object', () => partial(5 as never), /takes an object with the properties meant, and was given 5/],
  ['sized', () => sized(1.5), /takes a whole number of 0 or more, not 1.5/],
  ['unordered', () => unordered({} as never), /takes an array of items, and was given \{\}/],
  ['allOf', () => allOf(), /was given none/],
  ['anyOf', () => anyOf(), /was given none/],
  ['suchThat', () => suchThat(true as never), /takes a predicate, and was given true/],
  ['ofSchema', () => ofSchema({} as never), /takes a schema with the Standard Schema interface/],
  ['defineMatcher', () => defineMatcher(5 as never), /takes a function, and was given 5/],
  ['a matcher without a description', () => defineMatcher((() => ({})) as never)(), /returns \{ prints, differences \}, and this one returned \{\}/],
  ['reveal', () => reveal(5 as never, () => 1), /takes a class and a function/],
];
test.each(wrong)('bad input gets one clear error: %s', (_, run, message) => {
  expect(run).toThrow(TypeError);
  expect(run).toThrow(message);
});

test('plain data in any order is paired as deep equality has it, most of it without asking', () => {
  const leaf = fc.constantFrom<unknown>(0, -0, Number.NaN, '0', 1n, true, null, undefined, [1], { b: 1 }, { b: 2 });
  const item = fc.dictionary(fc.constantFrom('a', 'b', 'c d'), leaf, { maxKeys: 2 });
  forAll(
    100,
    fc.array(item, { maxLength: 7 }),
    fc.array(item, { maxLength: 2 }),
    fc.array(item, { maxLength: 2 }),
    fc.nat(),
    (shared, mine, theirs, turn) => {
      const others = [...theirs, ...shared.slice(turn % 7), ...shared.slice(0, turn % 7)].map((each) => structuredClone(each));
      const left = [...others];
      const isEqual = [...shared, ...mine].every((one) => {
        const at = left.findIndex((other) => isDeepStrictEqual(noZeros(one), noZeros(other)));
        return at >= 0 && left.splice(at, 1).length === 1;
      });
      expect(fitOf(unordered([...shared, ...mine]), others)).toBe(isEqual && left.length === 0 ? 'fits' : 'differs');
    },
  );
  const frames = Array.from({ length: 3_000 }, (_, at) => ({ id: `frame-${at}`, at: { ra: at } }));
  expect(fitOf(new Set(structuredClone(frames).reverse()), new Set(frames))).toBe('fits');
  const changed = structuredClone(frames)
    .reverse()
    .map((frame, at) => (at % 10 === 0 ? { ...frame, id: 'none' } : frame));
  expect(fitOf(unordered(changed), frames)).toBe('differs');
});

/** Both zeros are one. */
function noZeros(value: object): object {
  return Object.fromEntries(Object.entries(value).map(([key, held]) => [key, held === 0 ? 0 : held]));
}

test('a predicate is asked again for each check, and plain data is compared once', () => {
  const store = openLedger({ rules: 'loose' }).callable<(frame: object) => void>('store');
  store({ seconds: 30 });
  let answers: boolean | string = 'cloudy';
  const claim = once(call(store, [suchThat(() => answers as boolean)]));
  const told = () => failureOf(claim)?.message;
  expect(told()).toContain('it returned "cloudy"');
  answers = 'clear';
  expect(told()).toContain('it returned "clear"');
  answers = true;
  expect(told()).toBeUndefined();
});
