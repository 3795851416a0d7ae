import { expect, test } from 'vitest';
import { wrongOf } from './platform-pairs.ts';

test('objects of the platform are told apart in Node', () => {
  expect(wrongOf(globalThis)).toEqual([]);
});
