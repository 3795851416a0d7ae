// @vitest-environment jsdom
import { expect, test } from 'vitest';
import { eventsTakenForEqual, wrongOf } from './platform-pairs.ts';

test('objects of the platform are told apart in jsdom', () => {
  expect(typeof document).toBe('object');
  expect([...wrongOf(globalThis), ...eventsTakenForEqual(globalThis)]).toEqual([]);
});
