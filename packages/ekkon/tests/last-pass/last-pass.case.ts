import { call, check, once, withLedger } from 'ekkon';
import { test } from 'ekkon/vitest';
import { describe, expect } from 'vitest';

type Dome = { open(): void; turn(to: number): void };

/** What is wrong in this run: nothing, while records are to be kept. */
const fault = process.env['FAULT'] ?? '';

function night(dome: Dome, to: number): void {
  dome.open();
  dome.turn(fault === '' ? to : -1);
  check(once(call(dome.turn, [to])));
}

test('a night', ({ ledger }) => night(ledger.standIn<Dome>('dome'), 5));

test.for([7, 8])('turns to %i', (to, { ledger }) => night(ledger.standIn<Dome>('dome'), to));

describe.concurrent('at one time', () => {
  test('one', ({ ledger }) => night(ledger.standIn<Dome>('dome'), 1));
  test('two', ({ ledger }) => night(ledger.standIn<Dome>('dome'), 2));
});

describe('a group', () => {
  test('a night', ({ ledger }) => night(ledger.standIn<Dome>('dome'), 6));
});

test('twins', ({ ledger }) => night(ledger.standIn<Dome>('dome'), 3));
test('twins', ({ ledger }) => night(ledger.standIn<Dome>('dome'), 4));

test('two ledgers', async ({ ledger }) => {
  ledger.standIn<Dome>('dome').open();
  await withLedger((inner) => night(inner.standIn<Dome>('cover'), 9));
});

test(`named ${fault}`, ({ ledger }) => night(ledger.standIn<Dome>('dome'), 5));

test('fails on an error of its own', ({ ledger }) => {
  const dome = ledger.standIn<Dome>('dome');
  dome.open();
  if (fault !== '') throw new RangeError('too dark');
  dome.turn(5);
});

test('is told at close', ({ ledger }) => {
  const dome = ledger.standIn<Dome>('dome');
  ledger.atClose(once(call(dome.turn)));
  dome.open();
  if (fault === '') dome.turn(5);
});

test('a retry', { retry: 1 }, ({ ledger, task }) => {
  if (fault === '' && task.result?.retryCount === 0) ledger.standIn<Dome>('dome').turn(99);
  night(ledger.standIn<Dome>('dome'), 5);
  expect(fault === '' && task.result?.retryCount === 0).toBe(false);
});
