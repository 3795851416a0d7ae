import fc from 'fast-check';
import { expect, test } from 'vitest';
import { about, anyRest, anything, call, missing, nullish, openLedger, partial, returned } from '../index.ts';
import { tied } from '../record/tie.ts';
import { eventOf, type HeldEvent } from './event.ts';
import { eventFit } from './fit.ts';
import { makePatternIndex } from './pattern-index.ts';
import { numberPatterns } from './pattern-numbers.ts';
import { samePattern } from './same-pattern.ts';

class Frame {
  id = 1;
  seconds = 30;
}

/** Objects that are claimed, passed and changed in between, so that the very same one is met again. */
const shared = [{ id: 1, seconds: 30 }, { id: 2 }, { at: { ra: 1 } }] as Record<string, unknown>[];

const primitive = fc.oneof(
  { arbitrary: fc.constantFrom<unknown>(0, 1, 2, 3, 'frame', '1'), weight: 5 },
  { arbitrary: fc.constantFrom<unknown>(-0, Number.NaN, true, null, undefined, 1n, Symbol.for('night')), weight: 1 },
);
const part = fc.oneof(
  { arbitrary: fc.record({ id: primitive, kind: primitive }), weight: 4 },
  { arbitrary: fc.dictionary(fc.constantFrom('id', 'at', 'kind'), fc.oneof(primitive, fc.record({ ra: primitive })), { minKeys: 1 }), weight: 1 },
);
const passed = fc.oneof(
  { arbitrary: primitive, weight: 1 },
  { arbitrary: part, weight: 6 },
  fc.constantFrom<unknown>(...shared, [1, 2], new Frame(), new Map([['id', 1]]), Object.create({ id: 1 }), () => 1),
);
const claimed = fc.oneof(
  { arbitrary: passed, weight: 4 },
  part.map((each) => ({ ...each, id: about(1) })),
  part.map((each) => partial(each)),
  fc.constantFrom<unknown>(anything, nullish, missing, about(1), anyRest),
);

/** Lists of arguments that can be claimed: what stands for any further ones comes last. */
const claimedList = fc
  .oneof({ arbitrary: fc.tuple(claimed), weight: 4 }, fc.tuple(claimed, claimed))
  .map((items) => [...items].filter((item, at) => item !== anyRest || at === items.length - 1))
  .filter((items) => items.length > 0);

test('an index leaves out only what surely differs, and numbers only what means the same alike', () => {
  let [left, all] = [0, 0];
  const run = fc.property(
    fc.array(fc.tuple(claimedList, fc.boolean(), fc.nat(2)), { minLength: 40, maxLength: 60 }),
    fc.array(fc.array(passed, { maxLength: 2 }), { minLength: 1, maxLength: 12 }),
    (lists, calls) => {
      const ledger = openLedger({ rules: 'loose' });
      const store = ledger.callable<(...args: unknown[]) => unknown>('store');
      const patterns = lists.map(([items, atEnd, changed]) => {
        const calls = call(store, items as never);
        const pattern = eventOf(atEnd ? returned(calls) : calls) as HeldEvent;
        Object.assign(shared[changed] ?? {}, { id: lists.length });
        return pattern;
      });
      for (const args of calls) store(...args);
      const index = makePatternIndex(patterns);
      for (const entry of tied(ledger)?.journal.entries ?? []) {
        const found = new Set([...index(entry, false), ...index(entry, true)]);
        const missed = patterns.filter((pattern, at) => !found.has(at) && eventFit(pattern, entry) !== 'differs');
        expect(missed).toEqual([]);
        left += patterns.length - found.size;
        all += patterns.length;
      }
      const { numberOf } = numberPatterns<HeldEvent>();
      const numbers = patterns.map(numberOf);
      const first = patterns.map((pattern) => patterns.findIndex((other) => samePattern(other, pattern)));
      expect(numbers.map((number) => numbers.indexOf(number))).toEqual(first);
      ledger.close();
    },
  );
  fc.assert(run, { numRuns: 200 });
  expect(left / all).toBeGreaterThan(0.08);
});

test('what is written in another order means the same', () => {
  const store = openLedger({ rules: 'loose' }).callable<(frame: object) => void>('store');
  const written = [{ id: 1, seconds: 30 }, { seconds: 30, id: 1 }, { id: 1 }].map((frame) => eventOf(call(store, [frame])) as HeldEvent);
  const { numberOf } = numberPatterns<HeldEvent>();
  expect(written.map(numberOf)).toEqual([0, 0, 1]);
});

test('of a thousand patterns of one member a call is held against few', () => {
  const ledger = openLedger({ rules: 'loose' });
  const store = ledger.callable<(...args: unknown[]) => unknown>('store');
  const night = { dome: 'open' };
  for (const argsOf of [
    (at: number) => [{ id: `frame-${at}`, of: 'night' }],
    (at: number) => ['night', at],
    (at: number) => ['night', night, partial({ of: 'night', at })],
    (at: number) => [night, { at, of: [1] }],
  ]) {
    const patterns = Array.from({ length: 1_000 }, (_, at) => eventOf(call(store, argsOf(at) as never)) as HeldEvent);
    const index = makePatternIndex(patterns);
    store(...argsOf(500).map((each, at) => (at === 2 ? { of: 'night', at: 500 } : each)));
    const entry = tied(ledger)?.journal.entries.at(-1);
    expect(entry && index(entry, false)).toContain(500);
    const most = argsOf(0).includes(night as never) ? 1_000 : 1;
    expect(entry && index(entry, false).length).toBeLessThanOrEqual(most);
  }
});
