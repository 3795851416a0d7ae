import { isDeepStrictEqual } from 'node:util';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { anyValue } from '../../tests/any-value.ts';
import { forAll } from '../../tests/for-all.ts';
import { openLedger } from '../index.ts';
import { printPath, printValue, shortValue } from './value.ts';

const all = { items: Number.POSITIVE_INFINITY, text: Number.POSITIVE_INFINITY };

test.each([0, 40, Number.POSITIVE_INFINITY])('what is printed in %s columns can be pasted back as code', (width) => {
  const values = anyValue({ withSparseArray: false, maxDepth: 4 });
  forAll(100, values, (value) => {
    // As an expression; `__proto__: …` in it would be no property but a prototype.
    fc.pre(!JSON.stringify([...keysIn(value)]).includes('__proto__'));
    const read: unknown = new Function(`return (${printValue(value, { width, ...all })});`)();
    expect(isDeepStrictEqual(read, value)).toBe(true);
  });
});

function* keysIn(value: unknown): Generator<string> {
  if (typeof value !== 'object' || value === null) return;
  for (const [key, held] of value instanceof Map ? value : Object.entries(value)) {
    yield String(typeof key === 'string' ? key : '');
    yield* keysIn(key);
    yield* keysIn(held);
  }
  if (value instanceof Set) for (const held of value) yield* keysIn(held);
}

class Frame {
  id = 'frame-1';
}
const cycle: Record<string, unknown> = { a: { b: 1 } };
(cycle['a'] as Record<string, unknown>)['up'] = cycle;
const dome = openLedger().standIn<{ open(): void }>('dome');

const cases: readonly [unknown, string][] = [
  [{ seconds: 30, filter: 'red' }, '{ seconds: 30, filter: "red" }'],
  [{ 'two words': 1, ok: 2, 3: 3 }, '{ "3": 3, "two words": 1, ok: 2 }'],
  [new Frame(), 'Frame { id: "frame-1" }'],
  [new RangeError('far', { cause: new Error('wind') }), 'new RangeError("far", { cause: new Error("wind") })'],
  [[dome, dome.open], '[[stand-in dome], [member dome.open]]'],
  [cycle, '{ a: { b: 1, up: ‹cycle to ^^› } }'],
  [[undefined, null, -0, 5n, Symbol('x'), Symbol.for('y')], '[undefined, null, -0, 5n, Symbol("x"), Symbol.for("y")]'],
  [Array(2), '[‹hole›, ‹hole›]'],
  [(a: number) => a, '‹function›'],
  [Frame, '‹class Frame›'],
  [Promise.resolve(1), '‹Promise›'],
  [new WeakSet(), '‹WeakSet, state hidden›'],
  [/a\/b/gi, '/a\\/b/gi'],
  [new Uint8Array([1, 2]).buffer, 'new Uint8Array([1, 2]).buffer'],
  [new URL('https://archive.example/'), 'new URL("https://archive.example/")'],
  [Object.create(null, { a: { get: () => 1, enumerable: true } }), '{ a: ‹accessor› }'],
  [Array.from({ length: 30 }, (_, at) => at), `[${Array.from({ length: 24 }, (_, at) => at).join(', ')}, … 6 more]`],
  ['a'.repeat(250), `"${'a'.repeat(240)}…" (250 characters)`],
];
test.each(cases)('%# prints in a line', (value, text) => {
  expect(printValue(value, { width: 200 })).toBe(text);
});

test('what does not fit is folded, a property a line', () => {
  expect(printValue({ at: { ra: 83.6, dec: 22 }, filters: ['red', 'green'] }, { width: 30 })).toBe(`{
  at: { ra: 83.6, dec: 22 },
  filters: ["red", "green"],
}`);
});

test('a short print is the print, cut to its length, whatever is shared in it', () => {
  expect(shortValue({ text: 'x'.repeat(100) }, 20)).toBe('{ text: "xxxxxxxxxx…');
  forAll(100, anyValue({ maxDepth: 6 }), fc.integer({ min: 20, max: 80 }), (value, length) => {
    const line = printValue(value, { width: Number.POSITIVE_INFINITY, items: 8, text: length });
    expect(shortValue(value, length)).toBe(line.length <= length ? line : `${line.slice(0, length - 1)}…`);
  });
  const shared = Array.from({ length: 60 }).reduce((inner) => [inner, inner], 1 as unknown);
  expect(shortValue(shared, 20)).toBe(`${'['.repeat(12)}…, …], …`);
});

test.each<[PropertyKey[], string]>([
  [[0, 'filter'], '[0].filter'],
  [['at', 'right ascension', 3], '.at["right ascension"][3]'],
  [[Symbol('light')], '[Symbol("light")]'],
  [Array.from({ length: 40 }, () => 'a'), `${'.a'.repeat(6)} … 28 deeper … ${'.a'.repeat(6)}`],
])('a path prints as code would write it: %j', (path, text) => {
  expect(printPath(path)).toBe(text);
});
