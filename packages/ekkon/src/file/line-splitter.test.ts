import fc from 'fast-check';
import { expect, test } from 'vitest';
import { forAll } from '../../tests/for-all.ts';
import { LineSplitter } from './line-splitter.ts';

test('lines are those of the whole text, wherever its bytes are cut', () => {
  const text = fc.string({ unit: fc.constantFrom('a', '\n', '\r', 'é', '夜', '🌟'), maxLength: 30 });
  forAll(100, text, fc.integer({ min: 1, max: 7 }), (whole, size) => {
    const bytes = new TextEncoder().encode(whole);
    const splitter = new LineSplitter();
    const lines: string[] = [];
    for (let from = 0; from < bytes.length; from += size) lines.push(...splitter.take(bytes.subarray(from, from + size)));
    expect([...lines, splitter.rest()]).toEqual(whole.split('\n'));
  });
});
