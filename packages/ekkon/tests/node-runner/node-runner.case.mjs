import assert from 'node:assert/strict';
import { describe } from 'node:test';
import { call, check, gives, once, plan, reach } from 'ekkon';
import { it, test } from 'ekkon/node';

/** A required call that never comes: a finding at close, of a test that passes. */
function require(ledger) {
  const { dome } = ledger.standIns();
  plan(once(call(dome.close)), gives(undefined));
}

test('is named after its test', ({ ledger }) => {
  assert.equal(ledger.name, 'is named after its test');
});

test('a finding at close fails the test', ({ ledger }) => {
  require(ledger);
});

test('the own failure of the body comes first', ({ ledger }) => {
  require(ledger);
  throw new Error('the body failed');
});

test('calls back when it is done', (context, done) => {
  const { dome } = context.ledger.standIns();
  setTimeout(() => {
    dome.close();
    check(once(call(dome.close)));
    done();
  }, 1);
});

test('calls back with an error', (context, done) => {
  require(context.ledger);
  done(new Error('called back'));
});

test('by rules of its own', { ledger: { rules: 'strict', name: 'strictly' } }, ({ ledger }) => {
  const { dome } = ledger.standIns();
  assert.throws(() => dome.close(), /no plan was made/);
});

test('has tests inside', async (context) => {
  await context.test('inside, with a ledger of its own', ({ ledger }) => {
    assert.notEqual(ledger, context.ledger);
    require(ledger);
  });
  assert.equal(context.name, 'has tests inside');
});

describe('a group', () => {
  it('holds tests by the other name', ({ ledger }) => {
    assert.equal(ledger.entries().length, 0);
  });
});

test.skip('is skipped', ({ ledger }) => require(ledger));
test.todo('is to be done');

test('runs out of time', { timeout: 50 }, async ({ ledger }) => {
  const { dome } = ledger.standIns();
  await reach(once(call(dome.close)), { within: 300 });
});
