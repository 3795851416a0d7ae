import { expect, test } from 'vitest';
import { eventsTakenForEqual, wrongOf } from './platform-pairs.ts';

test('objects of the platform are told apart in Node', () => {
  expect([...wrongOf(globalThis), ...eventsTakenForEqual(globalThis)]).toEqual([]);
});
