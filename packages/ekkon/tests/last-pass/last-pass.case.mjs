import assert from 'node:assert/strict';
import { call, check, once, withLedger } from 'ekkon';
import { test } from 'ekkon/node';

const fault = process.env['FAULT'] ?? '';

function night(dome, to) {
  dome.open();
  dome.turn(fault === '' ? to : -1);
  check(once(call(dome.turn, [to])));
}

test('a night', ({ ledger }) => night(ledger.standIn('dome'), 5));

test('around', async ({ test: inside }) => {
  await inside('a night', ({ ledger }) => night(ledger.standIn('dome'), 6));
});

test('two ledgers', async ({ ledger }) => {
  ledger.standIn('dome').open();
  await withLedger((inner) => night(inner.standIn('cover'), 9));
});

test('fails on an error of its own', ({ ledger }) => {
  const dome = ledger.standIn('dome');
  dome.turn(fault === '' ? 1 : 2);
  assert.equal(fault, '');
});

for (const to of [1, 2]) test('twins', ({ ledger }) => night(ledger.standIn('dome'), to));
