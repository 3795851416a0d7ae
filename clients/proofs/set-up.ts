import { call, callsBack, fulfils, type Ledger, plan } from 'ekkon';
import { test as base } from 'ekkon/vitest';
import { Bakery, type Parts as BakeryParts } from './bakery.ts';
import { Desk, type Parts as DeskParts } from './ferry.ts';

/** As a project has it that wants every test to prove something. */
export const test = base.extend({ ledgerOptions: { rules: 'careful' } });

export const order = { trip: 'north', count: 2, card: '1234', mail: 'ada@ferry.example' };

/** A desk at which everything goes well. */
export function openDesk(ledger: Ledger) {
  const { boats, till, post, audit } = ledger.standIns<DeskParts>();
  plan(call(boats.seats), fulfils(5));
  plan(call(boats.hold), fulfils('t-1'));
  plan(call(till.charge), fulfils(undefined));
  plan(call(till.refund), fulfils(undefined));
  plan(call(post.send), fulfils(undefined));
  return { boats, till, post, audit, desk: new Desk({ boats, till, post, audit }) };
}

/** A bakery with an oven that heats. */
export function openBakery(ledger: Ledger) {
  const { oven, printer, log } = ledger.standIns<BakeryParts>();
  plan(call(oven.heat), callsBack([]));
  plan(call(oven.put), fulfils(750));
  return { oven, printer, log, bakery: new Bakery({ oven, printer, log }) };
}
