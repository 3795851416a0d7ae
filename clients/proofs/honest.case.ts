import assert from 'node:assert';
import {
  allItems,
  anything,
  call,
  callsBack,
  check,
  completed,
  computes,
  deferred,
  during,
  exactItems,
  fulfilled,
  fulfils,
  gives,
  inFlight,
  inTurn,
  item,
  leadsTo,
  never,
  nothingElse,
  once,
  onlyAfter,
  optional,
  partial,
  plan,
  reach,
  reads,
  rejects,
  stays,
  suchThat,
  times,
  withLedger,
  writes,
} from 'ekkon';
import { Subject } from 'rxjs';
import { expect } from 'vitest';
import { Bakery, type Parts as BakeryParts } from './bakery.ts';
import { Desk, type Parts as DeskParts } from './ferry.ts';
import { openBakery, openDesk, order, test } from './set-up.ts';

// Tests that verify their names: none may fail.

test('a claim on the call', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  await desk.book(order);
  check(once(call(till.charge, ['1234', 900])));
});

test('nothing happens for this order', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  await desk.book({ ...order, count: 0 });
  check(never(call(till.charge)));
});

test('nothing happens for a while', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  await desk.book({ ...order, count: 9 });
  await stays(never(call(till.charge)), { for: 10 });
});

test('the doubles feed the code, and the test asserts on what comes of it', async ({ ledger }) => {
  const { desk } = openDesk(ledger);
  expect(await desk.book(order)).toBe('t-1');
});

test('an assertion of the platform', async ({ ledger }) => {
  const { desk } = openDesk(ledger);
  assert.equal(await desk.book(order), 't-1');
});

test('an error of its own is the assertion', async ({ ledger }) => {
  const { desk } = openDesk(ledger);
  const ticket = await desk.book(order);
  if (ticket !== 't-1') throw new Error(`it booked ${ticket}`);
});

test('a set-up that others share has a plan too many', async ({ ledger }) => {
  const { desk, audit } = openDesk(ledger);
  await desk.book({ ...order, count: 9 });
  check(once(call(audit.write, ['refused', { why: 'full' }])));
});

test('a special plan over a general one is not needed this time', async ({ ledger }) => {
  const { desk, boats, till } = openDesk(ledger);
  plan(call(boats.seats, ['south']), fulfils(0));
  await desk.book(order);
  check(once(call(till.charge)));
});

test('two special plans, of which one is for another case', async ({ ledger }) => {
  const { boats, till, audit, post } = ledger.standIns<DeskParts>();
  plan(call(boats.seats, ['north']), fulfils(0));
  plan(call(boats.seats, ['south']), fulfils(5));
  await new Desk({ boats, till, audit, post }).book(order);
  check(once(call(audit.write, ['refused', { why: 'full' }])));
});

test('what is guarded rightly never comes', async ({ ledger }) => {
  const { desk, boats, till } = openDesk(ledger);
  await desk.book({ ...order, count: 9 });
  check(onlyAfter(call(till.charge), call(boats.hold)), once(call(boats.seats)));
});

test('a check is expected to fail', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  await desk.book(order);
  expect(() => check(once(call(till.refund)))).toThrow('never called');
});

test('a check is expected to fail, by the platform', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  await desk.book(order);
  assert.throws(() => check(once(call(till.refund))));
});

test('a promise is left open by a test that holds it', async ({ ledger }) => {
  const { desk, till, post } = openDesk(ledger);
  const charged = deferred<void>();
  plan(call(till.charge), charged);
  void desk.book(order);
  await reach(once(call(till.charge)));
  check(never(call(post.send)));
});

test('a promise is settled when the test likes', async ({ ledger }) => {
  const { desk, till, post } = openDesk(ledger);
  const charged = deferred<void>();
  plan(call(till.charge), charged);
  const booking = desk.book(order);
  await reach(once(call(till.charge)));
  charged.fulfil();
  await booking;
  check(once(call(post.send)));
});

test('some steps are optional, and the others came', async ({ ledger }) => {
  const { desk, boats, till } = openDesk(ledger);
  await desk.book(order);
  check(inTurn(call(boats.hold), optional(call(boats.release)), call(till.charge)));
});

test('all the items of a list that has some', ({ ledger }) => {
  const { printer, bakery } = openBakery(ledger);
  bakery.label(['rye', 'oat']);
  check(once(call(printer.print, [allItems(partial({ grams: 750 }))])));
});

test('an empty list is printed', ({ ledger }) => {
  const { printer, bakery } = openBakery(ledger);
  bakery.label(['']);
  check(once(call(printer.print, [[]])));
});

test('an assertion in a reply holds', async ({ ledger }) => {
  const { desk, till, audit } = openDesk(ledger);
  plan(
    call(till.charge),
    computes(async (_, cents) => expect(cents).toBe(900)),
  );
  await desk.book(order);
  check(once(call(audit.write, ['booked', anything])));
});

test('a reply fails as the code has to cope with', async ({ ledger }) => {
  const { desk, till, boats } = openDesk(ledger);
  plan(call(till.charge), rejects(new Error('no money')));
  await desk.book(order);
  check(once(call(boats.release, ['t-1'])));
});

test('a reply that computes throws as the code has to cope with', async ({ ledger }) => {
  const { desk, till, boats } = openDesk(ledger);
  plan(
    call(till.charge),
    computes(async () => {
      throw new RangeError('no money');
    }),
  );
  await desk.book(order);
  check(once(call(boats.release, ['t-1'])));
});

test('a callback is called with an error', async ({ ledger }) => {
  const { oven, log, bakery } = openBakery(ledger);
  plan(call(oven.heat), callsBack([new Error('no gas')]));
  expect(await bakery.bake(['rye'])).toBe(0);
  check(once(call(log.warn, ['no gas'])), never(call(oven.put)));
});

test('words that look alike and are not the same', async ({ ledger }) => {
  const { desk, audit } = openDesk(ledger);
  await desk.book({ ...order, count: 9 });
  check(
    never(call(audit.write, ['refunds', anything])),
    never(call(audit.write, ['refuses', anything])),
  );
});

test('numbers in texts that are not the same', async ({ ledger }) => {
  const { desk, boats } = openDesk(ledger);
  await desk.book({ ...order, trip: 'boat-17' });
  check(never(call(boats.seats, ['boat-18'])), never(call(boats.hold, ['boat-71', anything])));
});

test('members whose names look alike', ({ ledger }) => {
  const { parts } = ledger.standIns<{
    parts: { sender(): void; senders(): void; render(): void };
  }>();
  parts.sender();
  check(never(call(parts.senders)), never(call(parts.render)));
});

test('the stretch began', async ({ ledger }) => {
  const { desk, boats, till } = openDesk(ledger);
  await desk.book(order);
  check(during({ from: call(boats.hold) }, once(call(till.charge))));
});

test('the trigger came', async ({ ledger }) => {
  const { desk, till, boats } = openDesk(ledger);
  plan(call(till.charge), rejects(new Error('no money')));
  await desk.book(order);
  check(leadsTo(call(till.charge), call(boats.release)));
});

test('the calls are looked at by hand', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  await desk.bookAll([order, order, order]);
  for (const { args } of ledger.entries(call(till.charge)))
    if (args[1] !== 900) throw new Error('wrong');
});

test('a plan with a count is the claim', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  plan(once(call(till.charge, ['1234', 900])), fulfils(undefined));
  await desk.book(order);
});

test('a claim at close', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  ledger.atClose(never(call(till.refund)), once(call(till.charge)));
  await desk.book(order);
});

test('a stream to its end', async ({ ledger }) => {
  const { oven, bakery } = openBakery(ledger);
  const orders = new Subject<string>();
  const followed = ledger.follow(orders, 'orders');
  bakery.take(orders);
  orders.next('rye');
  orders.next('stone');
  orders.complete();
  check(
    exactItems(followed, ['rye', 'stone']),
    once(completed(followed)),
    once(call(oven.put)),
    never(call(oven.put, [['stone']])),
  );
});

test('an item never comes of a stream that gives others', ({ ledger }) => {
  const { oven, bakery } = openBakery(ledger);
  const orders = new Subject<string>();
  const followed = ledger.follow(orders, 'orders');
  bakery.take(orders);
  orders.next('rye');
  check(never(item(followed, 'oat')), once(call(oven.put, [['rye']])));
});

test('it is asked again until it holds', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  const booking = desk.book(order);
  for (let round = 0; round < 50; round++) {
    try {
      check(once(call(till.charge)));
      break;
    } catch {
      await Promise.resolve();
    }
  }
  await booking;
  check(once(call(till.charge)));
});

test('a failure is expected, and asserted', async ({ ledger }) => {
  const { desk, boats } = openDesk(ledger);
  plan(call(boats.seats), rejects(new Error('the boats are asleep')));
  await expect(desk.book(order)).rejects.toThrow('asleep');
});

test('two at a time', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  await desk.bookAll([order, order, order]);
  check(inFlight('1..2', call(till.charge)), times(3, fulfilled(call(till.charge))));
});

test('what is written to a device', async ({ ledger }) => {
  const { oven, bakery } = openBakery(ledger);
  await bakery.bake(['rye']);
  check(inTurn(writes(oven, 'door', 'open'), call(oven.put), writes(oven, 'door', 'shut')));
});

test('what is read of a device', ({ ledger }) => {
  const oven = ledger.standIn<BakeryParts['oven']>('oven');
  plan(reads(oven, 'hot'), gives(true));
  expect(oven.hot).toBe(true);
});

test('nothing else than that', async ({ ledger }) => {
  const { desk, till, post } = openDesk(ledger);
  await desk.book(order);
  check(once(call(till.charge)), once(call(post.send)), nothingElse(till, post));
});

test('a double that has to stay untouched', async ({ ledger }) => {
  const { desk, audit } = openDesk(ledger);
  const printer = ledger.standIn<BakeryParts['printer']>('printer');
  await desk.book(order);
  check(never(call(printer.print)), once(call(audit.write)));
});

test('an order that is cancelled', async ({ ledger }) => {
  const { desk, till, boats } = openDesk(ledger);
  await desk.cancel('t-1', order);
  check(
    inTurn(
      call(boats.release),
      call(till.refund, ['1234', suchThat((cents: number) => cents > 0)]),
    ),
  );
});

test('a ledger of its own beside the one of the test', async () => {
  await withLedger({ rules: 'careful' }, async (own) => {
    const { oven, printer, log } = own.standIns<BakeryParts>();
    new Bakery({ oven, printer, log }).label(['rye']);
    assert.ok(own.entries(call(printer.print)).length === 1);
  });
});
