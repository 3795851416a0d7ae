import fc from 'fast-check';
import { expect, test } from 'vitest';
import { forAll } from '../../tests/for-all.ts';
import { hiddenDifference } from './look-alike.ts';
import { didYouMean, editDistance, nearNames, startNameSearch } from './near-names.ts';

/** The distance by its definition: every way to mend the ends, with nothing remembered. */
function definedDistance(one: string, other: string): number {
  if (one === '' || other === '') return one.length + other.length;
  const [a, b] = [one.slice(0, -1), other.slice(0, -1)];
  const ways = [definedDistance(a, other) + 1, definedDistance(one, b) + 1, definedDistance(a, b) + (one.at(-1) === other.at(-1) ? 0 : 1)];
  const isSwapped = one.length > 1 && other.length > 1 && one.at(-1) === other.at(-2) && one.at(-2) === other.at(-1);
  if (isSwapped) ways.push(definedDistance(one.slice(0, -2), other.slice(0, -2)) + 1);
  return Math.min(...ways);
}

test('the distance of two texts is that of its definition, up to a bound', () => {
  const text = fc.string({ unit: fc.constantFrom('a', 'b', 'c'), maxLength: 6 });
  forAll(100, text, text, fc.nat(4), (one, other, most) => {
    expect(editDistance(one, other, most)).toBe(Math.min(definedDistance(one, other), most + 1));
  });
});

test('the nearest names come first, and a search ends after so many letters', () => {
  expect(nearNames('dome.opne', ['dome.openn', 'dome.open', 'alarm.sound', 'DOME.OP-NE', 'd'])).toEqual(['DOME.OP-NE', 'dome.open', 'dome.openn']);
  const search = startNameSearch();
  const ids = (start: string) => Array.from({ length: 400 }, (_, at) => `${start}${(at * 7_919 + 1e9).toString(36)}`);
  for (const id of ids('a')) nearNames(id, ids('b'), search);
  expect(search.letters).toBeLessThanOrEqual(0);
  expect(nearNames('dome', ['dome.'], search)).toEqual([]);
});

test.each([
  ['dome', 'd\u043eme', 'U+043E instead of U+006F'],
  ['caf\u00e9', 'cafe\u0301', 'U+0065 instead of U+00E9'],
  ['night ends', 'night\u00a0ends', 'U+00A0 instead of U+0020'],
  ['dome', 'dome\u200b', 'U+200B at its end'],
  ['dome\u200b', 'dome', 'nothing instead of U+200B at its end'],
  ['dome', '\uff44ome', 'U+FF44 instead of U+0064'],
  ['dome', 'Dome', undefined],
  ['дом', 'дым', undefined],
  ['caf\u00e9', 'caf\u00e9', undefined],
])('says where %j and %j part if nobody can see it', (expected, received, said) => {
  expect(hiddenDifference(expected, received)).toBe(said);
  if (said !== undefined)
    expect([nearNames(received, [expected]), didYouMean(expected, received)]).toEqual([[expected], `it looks like ${expected}, but has ${said}`]);
});
