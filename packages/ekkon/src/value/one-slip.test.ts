import { expect, test } from 'vitest';
import { isOneSlip } from './one-slip.ts';

test.each([
  ['refused', 'refuesd', true],
  ['write', 'wirte', true],
  ['Your ticket t-1', 'Your tiket t-1', true],
  ['commit', 'comit', true],
  ['requested', 'reqvested', true],
  ['refused', 'refused', false],
  ['send', 'sent', false],
  ['item', 'items', false],
  ['sender', 'render', false],
  ['cater', 'cuter', false],
  ['north', 'nroth', true],
  ['frame-12', 'frame-21', false],
  ['open', 'oepn', false],
  ['', 'a', false],
])('%s and %s differ by one slip: %s', (one, other, isSlip) => {
  expect([isOneSlip(one, other), isOneSlip(other, one)]).toEqual([isSlip, isSlip]);
});
