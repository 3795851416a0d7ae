import {
  allItems,
  anything,
  call,
  callsBack,
  check,
  computes,
  deferred,
  during,
  exactItems,
  fulfils,
  gives,
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
  rejects,
  returned,
  stays,
  suchThat,
  times,
  writes,
} from 'ekkon';
import { Subject } from 'rxjs';
import { expect } from 'vitest';
import { Bakery, type Parts as BakeryParts } from './bakery.ts';
import { Desk, type Parts as DeskParts } from './ferry.ts';
import { openBakery, openDesk, order, test } from './set-up.ts';

// Tests that verify nothing, or less than they seem to: each must fail.

test('a claim is written and never checked', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  await desk.book(order);
  once(call(till.charge, ['1234', 900]));
});

test('a pattern stands where a claim should', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  await desk.book(order);
  call(till.charge, ['1234', 900]);
});

test('the check comes before the act', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  check(never(call(till.refund)));
  await desk.book(order);
});

test('the act is missing', ({ ledger }) => {
  const { till, boats } = openDesk(ledger);
  check(never(call(till.refund)), never(call(boats.release)));
});

test('the member is misspelled', async ({ ledger }) => {
  const { desk, audit } = openDesk(ledger);
  await desk.book({ ...order, count: 9 });
  // biome-ignore lint/suspicious/noExplicitAny: as in a test without types
  check(never(call((audit as any).wirte)));
});

test('a text is misspelled', async ({ ledger }) => {
  const { desk, audit } = openDesk(ledger);
  await desk.book({ ...order, count: 9 });
  check(never(call(audit.write, ['refuesd', anything])));
});

test('a text is misspelled inside of an object', async ({ ledger }) => {
  const { desk, post } = openDesk(ledger);
  await desk.book(order);
  check(never(call(post.send, [anything, { subject: 'Your tiket t-1' }])));
});

test('a text is misspelled in what may come only after another event', async ({ ledger }) => {
  const { desk, audit, till } = openDesk(ledger);
  await desk.book({ ...order, count: 9 });
  check(onlyAfter(call(audit.write, ['refuesd', anything]), call(till.charge)));
});

test('the double was never handed over, and another one of its name was', async ({ ledger }) => {
  const { desk } = openDesk(ledger);
  const till = ledger.standIn<DeskParts['till']>('till');
  await desk.book(order);
  check(never(call(till.refund)));
});

test('the check stands in a callback that never runs', ({ ledger }) => {
  const { oven, log, bakery } = openBakery(ledger);
  plan(call(oven.heat), gives(undefined));
  void bakery.bake(['rye']).then(() => check(once(call(log.info))));
});

test('the check stands in a promise that nobody awaits', ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  void desk.book(order).then(() => check(once(call(till.refund))));
});

test('reach is not awaited', ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  void desk.book(order);
  void reach(once(call(till.charge)));
});

test('the failure of a check is swallowed', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  await desk.book(order);
  try {
    check(once(call(till.refund)));
  } catch {
    // It may fail now and then.
  }
});

test('all steps of a sequence are optional, and none came', async ({ ledger }) => {
  const { desk, boats, till } = openDesk(ledger);
  await desk.book(order);
  check(inTurn(optional(call(boats.release)), optional(call(till.refund))));
});

test('all the items of an empty list', ({ ledger }) => {
  const { printer, bakery } = openBakery(ledger);
  bakery.label([]);
  check(once(call(printer.print, [allItems(partial({ grams: 750 }))])));
});

test('an assertion in a reply fails, and the code swallows it', async ({ ledger }) => {
  const { desk, till, audit } = openDesk(ledger);
  plan(
    call(till.charge),
    computes(async (_, cents) => expect(cents).toBe(450)),
  );
  await desk.book(order);
  check(once(call(audit.write)));
});

test('an assertion in a predicate fails, and the code swallows it', async ({ ledger }) => {
  const { desk, till, audit } = openDesk(ledger);
  const right = suchThat((cents: number) => {
    expect(cents).toBe(450);
    return true;
  }, 'right');
  plan(call(till.charge, [anything, right]), fulfils(undefined));
  await desk.book(order);
  check(once(call(audit.write)));
});

test('there is no function to call back, and the code swallows that', async ({ ledger }) => {
  const { oven, log, bakery } = openBakery(ledger);
  plan(call(oven.heat), callsBack([], { argument: 3 }));
  await bakery.bake(['rye']);
  check(never(call(log.warn)));
});

test('a ledger is asked for, and nothing more', ({ ledger }) => {
  void ledger;
  new Desk({} as DeskParts);
});

test('plans are written, and nothing is claimed', async ({ ledger }) => {
  const { desk } = openDesk(ledger);
  await desk.book(order);
});

test('a plan is for a double that nothing calls or claims', async ({ ledger }) => {
  const { desk, boats } = openDesk(ledger);
  const printer = ledger.standIn<BakeryParts['printer']>('printer');
  plan(call(printer.print), gives(undefined));
  await desk.book(order);
  check(once(call(boats.hold)));
});

test('a plan is mistyped, so the code gets nothing', async ({ ledger }) => {
  const { till, audit, post } = openDesk(ledger);
  const boats = ledger.standIn<DeskParts['boats']>('ferries');
  plan(call(boats.seats, ['nroth']), fulfils(5));
  await new Desk({ boats, till, audit, post }).book(order);
  check(never(call(audit.write, ['refused', { why: 'full' }])));
});

test('a special plan is mistyped above a general one', async ({ ledger }) => {
  const { desk, boats, till } = openDesk(ledger);
  plan(call(boats.seats, ['nroth']), fulfils(0));
  await desk.book(order);
  check(once(call(till.charge)));
});

test('the stretch never began', async ({ ledger }) => {
  const { desk, boats, post } = openDesk(ledger);
  await desk.book(order);
  check(during({ from: call(boats.release) }, never(call(post.send))));
});

test('the trigger never came', async ({ ledger }) => {
  const { desk, boats, till } = openDesk(ledger);
  await desk.book(order);
  check(leadsTo(call(boats.release), call(till.refund)));
});

test('what is guarded never came, since nothing did', ({ ledger }) => {
  const { boats, till } = openDesk(ledger);
  check(onlyAfter(call(till.charge), call(boats.hold)));
});

test('any number of times', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  await desk.book(order);
  check(times('0..*', call(till.refund)));
});

test('a loop over an empty list checks nothing', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  const orders: (typeof order)[] = [];
  await desk.bookAll(orders);
  for (const { card } of orders) check(once(call(till.charge, [card, 900])));
});

test('the act is not awaited, and the check comes too early', ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  void desk.bookAll([order]);
  check(never(call(till.refund)));
});

test('a stream is followed, and nothing is claimed of it', ({ ledger }) => {
  const { bakery } = openBakery(ledger);
  const orders = new Subject<string>();
  ledger.follow(orders, 'orders');
  bakery.take(orders);
});

test('a stream gives nothing, and that is claimed at once', ({ ledger }) => {
  const orders = ledger.follow(new Subject<string>(), 'orders');
  check(exactItems(orders, []));
});

test('an item is claimed not to come of a stream that gives none', ({ ledger }) => {
  const { bakery } = openBakery(ledger);
  const orders = new Subject<string>();
  const followed = ledger.follow(orders, 'orders');
  bakery.take(orders);
  check(never(item(followed, 'stone')));
});

test('a promise never settles, and the test does not wait for it', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  plan(call(till.charge), deferred());
  void desk.book(order);
  await reach(once(call(till.charge)));
});

test('a branch of the test is never taken', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  const ticket = await desk.book({ ...order, count: 9 });
  if (ticket !== undefined) check(once(call(till.charge)));
});

test('nothing else was called of a double that nothing called', ({ ledger }) => {
  const { printer } = ledger.standIns<BakeryParts>();
  const { bakery } = { bakery: new Bakery({} as BakeryParts) };
  void bakery;
  check(nothingElse(printer));
});

test('nothing happens for no time at all', async ({ ledger }) => {
  const { till } = openDesk(ledger);
  await stays(never(call(till.refund)), { for: 0 });
});

test('a claim at close is on a double of its own', ({ ledger }) => {
  const till = ledger.standIn<DeskParts['till']>('till');
  ledger.atClose(never(call(till.refund)));
});

test('a write is claimed that nothing could make', ({ ledger }) => {
  const oven = ledger.standIn<BakeryParts['oven']>('oven');
  check(never(writes(oven, 'door', 'open')));
});

test('the end of a call that was never begun', async ({ ledger }) => {
  const { boats } = openDesk(ledger);
  check(never(returned(call(boats.release))));
});

test('a failure is planned that nothing runs into', async ({ ledger }) => {
  const { desk, boats, post } = openDesk(ledger);
  const spare = ledger.standIn<DeskParts['post']>('spare');
  plan(call(spare.send), rejects(new Error('closed')));
  void post;
  await desk.book(order);
  check(once(call(boats.hold)));
});

test('a claim stands in a helper that is not called', async ({ ledger }) => {
  const { desk, till } = openDesk(ledger);
  const paid = () => check(once(call(till.charge)));
  void paid;
  await desk.book(order);
});
