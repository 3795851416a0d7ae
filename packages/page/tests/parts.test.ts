import fc from 'fast-check';
import { expect, test } from 'vitest';
import { differenceTree } from '../src/difference-tree.ts';
import { readPlace, writePlace } from '../src/place.ts';

test('a place is what its fragment says, whatever the claims contain', () => {
  const number = fc.integer({ min: 1, max: 999_999_999 });
  const place = fc.record({ record: fc.nat(99), entry: number, claims: fc.string({ unit: 'grapheme' }) }, { requiredKeys: ['record'] });
  fc.assert(
    fc.property(place, (at) => {
      expect(readPlace(writePlace(at))).toEqual(at);
    }),
  );
});

test.each(['', '#', '#entry=x', '#entry=-1&record=0', '#entry=1e9', '#%', '#record=99999999999'])(
  'what is not a place in "%s" is left out',
  (fragment) => {
    expect(readPlace(fragment)).toEqual({ record: 0 });
  },
);

test('differences are a tree by their paths, with steps that nothing tells apart on one line', () => {
  const says = (text: string) => [[{ text }]];
  const tree = differenceTree([
    { path: ['[0]', '.at', '.ra'], says: says('a') },
    { path: ['[0]', '.at', '.dec'], says: says('b') },
    { path: ['[0]', '.seconds'], says: says('c') },
    { path: ['[1]', '.name', '.first'], says: says('d') },
    { path: [], says: says('e') },
  ]);
  expect(tree).toEqual([
    {
      path: '[0]',
      says: [],
      below: [
        {
          path: '.at',
          says: [],
          below: [
            { path: '.ra', says: says('a'), below: [] },
            { path: '.dec', says: says('b'), below: [] },
          ],
        },
        { path: '.seconds', says: says('c'), below: [] },
      ],
    },
    { path: '[1].name.first', says: says('d'), below: [] },
    { path: '', says: says('e'), below: [] },
  ]);
});
