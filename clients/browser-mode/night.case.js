import { call, check, once } from 'ekkon';
import { test as base } from 'ekkon/vitest';
import { lastPass } from './store.js';

const test = base.extend({ ledgerOptions: { lastPass } });

test('the dome turns', ({ ledger }) => {
  const { dome } = ledger.standIns();
  dome.open();
  dome.turn(import.meta.env.VITE_FAULT === 'on' ? -1 : 5);
  check(once(call(dome.turn, [5])));
});
