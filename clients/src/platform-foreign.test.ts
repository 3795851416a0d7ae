import { Window } from 'happy-dom';
import { JSDOM } from 'jsdom';
import { expect, test } from 'vitest';
import { wrongOf } from './platform-pairs.ts';

test('objects of a DOM that is not the one around the test are told apart', () => {
  const page = new JSDOM('', { url: 'http://archive.example/' }).window;
  expect(wrongOf(page as never)).toEqual([]);
  expect(wrongOf(new Window({ url: 'http://archive.example/' }) as never)).toEqual([]);
});
