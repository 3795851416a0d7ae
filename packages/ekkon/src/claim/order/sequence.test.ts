import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { holds } from '../../../tests/failure.ts';
import { forAll, forAllAsync } from '../../../tests/for-all.ts';
import { begunOrEnded, type Move, patternFor, played, sequencesOf } from '../../../tests/random-claims.ts';
import { leavesOf, stepOf, type Tree, wordsOf } from '../../../tests/step-trees.ts';
import { cheapestEdit } from '../../explain/cheapest-edit.ts';
import { everything } from '../../explain/window.ts';
import { call, either, fulfilled, inTurn, loop, openLedger, type StepLike } from '../../index.ts';
import { tied } from '../../record/tie.ts';
import { isAlwaysTrue } from './always-true.ts';
import { acceptorOf, eventsFor } from './explain-order.ts';
import { startOf } from './sequence-state.ts';
import type { HeldOrder } from './steps.ts';

const { tree: trees } = fc.letrec<{ tree: Tree<number> }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    fc.record({ kind: fc.constant('leaf' as const), leaf: fc.nat(2) }),
    fc.record({
      kind: fc.constantFrom('then' as const, 'together' as const, 'either' as const),
      parts: fc.array(tie('tree'), { minLength: 1, maxLength: 3 }),
    }),
    fc.record({ kind: fc.constant('loop' as const), part: tie('tree'), least: fc.nat(2), most: fc.integer({ min: 2, max: 3 }) }),
  ),
}));

/** Leaf 0 is any call of a, leaf 1 any of b, leaf 2 one of a with 1: they overlap. */
function record(events: readonly number[]) {
  const ledger = openLedger({ callSites: 0 });
  const { a, b } = { a: ledger.callable<(n: number) => void>('a'), b: ledger.callable<(n: number) => void>('b') };
  const other = ledger.callable<() => void>('other');
  const patterns = [call(a), call(b), call(a, [1])] as const;
  for (const event of events) {
    other();
    if (event === 2) b(0);
    else a(event);
  }
  return { ledger, patternOf: (leaf: number) => patterns[leaf] as StepLike };
}
const fits = (event: number, leaf: number) => (event === 2 ? leaf === 1 : leaf === 0 || (leaf === 2 && event === 1));

describe('a sequence', () => {
  test('is explained at the least cost that brute force finds', () => {
    forAll(300, fc.tuple(trees, fc.array(fc.nat(2), { maxLength: 4 })), ([tree, events]) => {
      const { ledger, patternOf } = record(events);
      const claim = inTurn(stepOf(tree, patternOf)) as unknown as HeldOrder;
      const sequence = claim.sequence();
      const journal = tied(ledger)?.journal;
      if (journal === undefined) throw new Error('no journal');
      const considered = eventsFor(sequence, journal, everything);
      const kinds = considered.map(({ entry }) => (entry.target.label === 'b' ? 2 : Number(entry.args[0])));
      const longest = kinds.length + 6;
      const words = [...wordsOf(tree, longest)].map(leavesOf);
      fc.pre(words.length > 0 && words.length < 3_000);
      const least = Math.min(...words.map((word) => editDistance(kinds, word)));
      // A longer word needs at least so many leaves put in: only if that is not cheaper are these words enough.
      fc.pre(least <= longest + 1 - kinds.length);
      const found = cheapestEdit(acceptorOf(sequence, considered), 0, considered.length, startOf(sequence));
      expect(found?.cost).toBe(least);
    });
  });

  /** Events left out and leaves put in, at least: the usual table. */
  function editDistance(events: readonly number[], word: readonly number[]): number {
    let last = Array.from({ length: word.length + 1 }, (_, at) => at);
    for (const [row, event] of events.entries()) {
      const current = [row + 1];
      for (let at = 1; at <= word.length; at++) {
        const taken = fits(event, word[at - 1] as number) ? (last[at - 1] ?? 0) : Number.POSITIVE_INFINITY;
        current.push(Math.min((last[at] ?? 0) + 1, (current[at - 1] ?? 0) + 1, taken));
      }
      last = current;
    }
    return last[word.length] ?? 0;
  }
});

test('a sequence that is said to hold always does so after whatever came', async () => {
  const moved = fc.array(fc.constantFrom<Move>('a1', 'a2', 'fulfil first', 'fulfil last'), { maxLength: 8 });
  const leaf = begunOrEnded.filter(({ of }) => of === 'a');
  let found = 0;
  await forAllAsync(600, fc.array(sequencesOf(leaf, 1), { minLength: 1, maxLength: 4 }), moved, async (turns, made) => {
    const parts = played();
    for (const move of made) await parts.play(move);
    const claim = inTurn(loop('0..*', either(...turns.map(({ step }) => stepOf(step, (pattern) => patternFor(parts, pattern))))));
    if (!isAlwaysTrue((claim as unknown as HeldOrder).sequence())) return;
    found++;
    expect(holds(claim)).toBe(true);
  });
  expect(found).toBeGreaterThan(100);
});

test('loops inside of one another are made ready in no time to speak of, with ends and without', async () => {
  const { a, play } = played();
  await play('a2');
  await play('fulfil first');
  for (const inside of [call(a, [1]), fulfilled(call(a, [1]))]) {
    const nested = Array.from({ length: 30 }).reduce<StepLike>((step) => loop('0..*', inTurn(step, call(a, [1]))), inside);
    expect(holds(inTurn(call(a), nested))).toBe(true);
  }
});
