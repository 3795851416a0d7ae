import { isDeepStrictEqual } from 'node:util';
import { runInNewContext } from 'node:vm';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { anyValue, holds } from '../../tests/any-value.ts';
import { forAll } from '../../tests/for-all.ts';
import { printValue } from '../notation/value.ts';
import { copyOf } from '../value/copy.ts';
import { type Difference, distanceOf } from '../value/difference.ts';
import { compare, fitOf } from './compare.ts';

const isNegativeZero = (value: unknown) => Object.is(value, -0);

const differences = (claimed: unknown, recorded: unknown) => compare(copyOf(claimed), copyOf(recorded));

describe('held against the platform’s deep equality', () => {
  test('two values have no difference exactly where they are deeply equal', () => {
    // Two values of few choices are often equal, or nearly so.
    const few = anyValue({ values: [fc.constantFrom(0, 1, 'a')], maxKeys: 2, maxDepth: 3 });
    const any = anyValue({ maxDepth: 3 });
    const pairs = fc.oneof(fc.tuple(any, any), fc.tuple(few, few));
    forAll(2_000, pairs, ([one, other]) => {
      fc.pre(!holds([one, other], isNegativeZero));
      const equal = isDeepStrictEqual(one, other);
      expect(differences(one, other).length === 0).toBe(equal);
      expect(fitOf(copyOf(one), copyOf(other))).toBe(equal ? 'fits' : 'differs');
    });
  });

  test('a value has no difference from its own copy, whatever it is', () => {
    forAll(100, anyValue({ withNullPrototype: true }), (value) => compare(value, copyOf(value)).length === 0);
  });

  test('what is undecided at the end of a list is told beside what differs before it', () => {
    class Hidden {
      readonly #seconds = 1;
      get seconds() {
        return this.#seconds;
      }
    }
    expect(differences([1, 2, new Hidden()], [1, 3, new Hidden()]).map(({ kind }) => kind)).toEqual(['changed', 'opaque']);
  });

  class Frame {
    readonly id = 'frame-1';
  }
  const exceptions: readonly [string, unknown, unknown, boolean][] = [
    ['-0 is 0', -0, 0, true],
    ['a literal describes an instance', { id: 'frame-1' }, new Frame(), true],
    ['an instance needs its class', new Frame(), { id: 'frame-1' }, false],
    ['a literal describes an object without prototype', { a: 1 }, Object.assign(Object.create(null), { a: 1 }), true],
    ['two invalid dates are equal', new Date(Number.NaN), new Date(Number.NaN), true],
    ['an error’s stack does not count', new Error('wind'), Object.assign(new Error('wind'), {}), true],
  ];
  test.each(exceptions)('agreed otherwise: %s', (_, claimed, recorded, equal) => {
    expect(differences(claimed, recorded).length === 0).toBe(equal);
  });
});

describe('one edit is reported as exactly that edit', () => {
  let leaf = 0;
  /** Values whose leaves are all different, so that an edit has only one place. */
  const { tree } = fc.letrec<{ tree: unknown }>((tie) => ({
    tree: fc.oneof(
      { depthSize: 'small', withCrossShrink: true },
      fc.integer().map(() => `leaf-${leaf++}`),
      fc.array(tie('tree'), { minLength: 1, maxLength: 5 }),
      fc
        .array(tie('tree'), { minLength: 1, maxLength: 4 })
        .map((items) => Object.fromEntries(items.map((item) => [`key${'abcdefghij'[leaf++ % 10]}${leaf}longer${leaf * 7919}`, item]))),
    ),
  }));

  /** Each place in a value, as a path. */
  const places = (value: unknown, path: readonly PropertyKey[] = []): readonly (readonly PropertyKey[])[] =>
    typeof value === 'object' && value !== null
      ? [path, ...Object.entries(value).flatMap(([key, held]) => places(held, [...path, Array.isArray(value) ? Number(key) : key]))]
      : [path];

  const at = (value: unknown, path: readonly PropertyKey[]): unknown =>
    path.reduce<unknown>((held, key) => (held as Record<PropertyKey, unknown>)[key], value);

  type Edit = (holder: Record<PropertyKey, unknown> & unknown[], key: PropertyKey) => Difference['kind'];
  const edits: Readonly<Record<string, Edit>> = {
    change(holder, key) {
      holder[key as number] = 'edited';
      return typeof key === 'symbol' ? 'type' : 'changed';
    },
    remove(holder, key) {
      if (Array.isArray(holder)) holder.splice(Number(key), 1);
      else delete holder[key as keyof typeof holder];
      return 'missing';
    },
    insert(holder, key) {
      if (Array.isArray(holder)) holder.splice(Number(key), 0, 'edited');
      else (holder as Record<PropertyKey, unknown>)['??'] = 'edited';
      return 'surplus';
    },
  };

  test.each(Object.keys(edits))('%s', (name) => {
    forAll(400, tree, fc.nat(), (value, choice) => {
      const inside = places(value).filter((path) => path.length > 0);
      fc.pre(inside.length > 0);
      const path = inside[choice % inside.length] ?? [];
      const edited = structuredClone(value);
      const [holder, key] = [at(edited, path.slice(0, -1)) as never, path[path.length - 1] ?? ''];
      const wasObject = typeof at(value, path) === 'object';
      const kind = edits[name]?.(holder, key);
      const inObject = !Array.isArray(holder);
      const expected = name === 'insert' && inObject ? [...path.slice(0, -1), '??'] : path;

      const found = differences(value, edited);
      expect(found.map((difference) => [difference.kind, difference.path])).toEqual([[name === 'change' && wasObject ? 'type' : kind, expected]]);
    });
  });

  test('the distance is 0 exactly where nothing was edited, and grows with each edit', () => {
    forAll(100, fc.uniqueArray(fc.string({ minLength: 4 }), { minLength: 1, maxLength: 12 }), (keys) => {
      const value: Record<string, unknown> = Object.fromEntries(keys.map((key, place) => [key, place]));
      const edited = { ...value };
      let last = distanceOf(differences(value, edited));
      expect(last).toBe(0);
      for (const key of keys) {
        edited[key] = 'edited';
        const distance = distanceOf(differences(value, edited));
        expect(distance).toBeGreaterThan(last);
        last = distance;
      }
    });
  });
});

describe('a difference says what it is', () => {
  class Frame {
    readonly id = 'frame-1';
  }
  class Shot {
    readonly id = 'frame-1';
  }
  const symbol = Symbol('light');
  const cases: Readonly<Record<string, readonly [unknown, unknown, readonly Partial<Difference>[]]>> = {
    'a mistyped key': [{ seconds: 30, filter: 'red' }, { secnods: 30, filter: 'red' }, [{ kind: 'renamed', path: ['secnods'], from: 'seconds' }]],
    'a mistyped key with another value': [{ seconds: 30 }, { Seconds: 60 }, [{ kind: 'renamed' }, { kind: 'changed', path: ['Seconds'] }]],
    'a moved item': [['a', 'b', 'c', 'd'], ['b', 'c', 'd', 'a'], [{ kind: 'moved', path: [3], from: 0 }]],
    'other items, and fewer of them': [
      ['p-6', 'p-7'],
      ['p-2'],
      [
        { kind: 'changed', path: [0], expected: 'p-6', received: 'p-2' },
        { kind: 'missing', path: [1], expected: 'p-7' },
      ],
    ],
    'one inserted item': [[1, 2, 3], [1, { at: 9 }, 2, 3], [{ kind: 'surplus', path: [1], received: { at: 9 } }]],
    'an item changed inside': [[{ id: 1 }, { id: 2 }], [{ id: 1 }, { id: 3 }], [{ kind: 'changed', path: [1, 'id'] }]],
    'undefined and nothing': [{ a: undefined }, {}, [{ kind: 'missing', path: ['a'] }]],
    'one item once more': [[1], [1, 1], [{ kind: 'surplus', path: [1], received: 1 }]],
    'a hole and undefined': [Array(1), [undefined], [{ kind: 'surplus', path: [0] }]],
    'two classes with equal fields': [new Frame(), new Shot(), [{ kind: 'type', why: 'class' }]],
    'null and an object': [null, {}, [{ kind: 'type' }]],
    'a symbol key': [{ [symbol]: 1 }, { [symbol]: 2 }, [{ kind: 'changed', path: [symbol] }]],
    'a map’s value': [new Map([['a', 1]]), new Map([['a', 2]]), [{ kind: 'changed', path: ['a'] }]],
    'a map’s value below an object': [new Map([[{ k: 1 }, 1]]), new Map([[{ k: 1 }, 2]]), [{ kind: 'changed', path: ['{ k: 1 }'] }]],
    'a map’s key': [
      new Map([['a', 1]]),
      new Map([['b', 1]]),
      [
        { kind: 'missing', path: ['a'] },
        { kind: 'surplus', path: ['b'] },
      ],
    ],
    'an object in a set': [new Set([{ a: 1 }, { b: 1 }]), new Set([{ b: 2 }, { a: 1 }]), [{ kind: 'changed', path: ['{ b: 2 }', 'b'] }]],
    'where a regexp goes on from': [/a/g, Object.assign(/a/g, { lastIndex: 1 }), [{ kind: 'changed' }]],
    'an error’s cause': [new Error('a', { cause: 1 }), new Error('a', { cause: 2 }), [{ kind: 'changed', path: ['cause'] }]],
    'one of several errors': [
      new AggregateError([new Error('a')]),
      new AggregateError([new Error('b')]),
      [{ kind: 'changed', path: ['errors', 0, 'message'] }],
    ],
    'an error’s class': [new TypeError('a'), new RangeError('a'), [{ kind: 'type' }]],
    'an address': [new URL('https://a.example/'), new URL('https://b.example/'), [{ kind: 'changed' }]],
    bytes: [new Uint8Array([1, 2]), new Uint8Array([1, 3]), [{ kind: 'changed', path: [1] }]],
    'types of bytes': [new Uint8Array([1]), new Int8Array([1]), [{ kind: 'type' }]],
    views: [new DataView(new ArrayBuffer(1)), new DataView(new ArrayBuffer(2)), [{ kind: 'surplus', path: [1] }]],
    'boxed and not': [Object(1), 1, [{ kind: 'type' }]],
    functions: [Math.max, Math.min, [{ kind: 'changed' }]],
  };
  test.each(Object.entries(cases))('%s', (_, [claimed, recorded, expected]) => {
    const found = differences(claimed, recorded);
    expect(found).toHaveLength(expected.length);
    expect(found).toMatchObject(expected);
  });

  test('values of another realm are what they are in this one', () => {
    const source =
      "({ m: new Map([['a', { b: [1] }]]), d: new Date(0), s: new Set([1]), r: /a/g, e: new RangeError('far'), t: new Uint8Array([1]), a: [1] })";
    const [foreign, own] = [runInNewContext(source), new Function(`return ${source}`)()];
    expect(differences(own, foreign)).toEqual([]);
    expect(differences(foreign, own)).toEqual([]);
    expect(differences(new Map(), runInNewContext('new Set()'))).toMatchObject([{ kind: 'type' }]);
    expect(printValue(foreign)).toBe(printValue(own));
  });
});
