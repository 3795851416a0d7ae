import * as dateFns from 'date-fns';
import { call, check, gives, once, plan } from 'ekkon';
import { importAgain } from 'ekkon/seams';
import { test } from 'ekkon/vitest';
import { expect } from 'vitest';
import * as tariff from '../src/tariff.ts';
import { billFor } from '../src/visitors-bill.ts';

const dusk = new Date('2031-04-05T19:00:00Z');

test('a visit costs what the tariff says', ({ ledger }) => {
  ledger.takeOver(tariff, 'priceFor');
  plan(call(tariff.priceFor, [90]), gives(12));

  expect(billFor(dusk, 90).coins).toBe(12);

  check(once(call(tariff.priceFor, [90])));
});

test('it is due an hour after it ends, by a package', ({ ledger }) => {
  ledger.observe(dateFns, 'addMinutes');

  expect(billFor(dusk, 90).due).toEqual(new Date('2031-04-05T21:30:00Z'));

  check(once(call(dateFns.addMinutes, [dusk, 150])));
});

test('a plugin defines its device as often as it is loaded', async ({ ledger }) => {
  const defineDevice = ledger.takeOver(globalThis, 'defineDevice', { absent: true });

  const { coldest } = await importAgain(() => import('../src/cooling-plugin.ts'));

  expect(coldest).toBe(-20);
  check(once(call(defineDevice, ['camera cooling', 120])));
});

test('and once more, with what it imports shared', async ({ ledger }) => {
  const defineDevice = ledger.takeOver(globalThis, 'defineDevice', { absent: true });
  await importAgain(() => import('../src/cooling-plugin.ts'));
  check(once(call(defineDevice)));
});
