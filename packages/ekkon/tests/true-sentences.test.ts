import fc from 'fast-check';
import { expect, test } from 'vitest';
import { failureOf } from './failure.ts';
import { forAllAsync } from './for-all.ts';
import { claimFor, claims, moves, played } from './random-claims.ts';
import { falseIn } from './sentences.ts';

const runs = Number(process.env['EKKON_RUNS'] ?? 1_000);

test('every sentence that a report says is true of the record', async () => {
  let sentences = 0;
  await forAllAsync(runs, fc.array(claims, { minLength: 1, maxLength: 4 }), fc.array(moves, { maxLength: 12 }), async (told, made) => {
    const parts = played();
    for (const move of made) await parts.play(move);
    const entries = parts.ledger.entries();
    const { findings = [], causes = [] } = failureOf(...told.map((each) => claimFor(parts, each)))?.verdict ?? {};
    const said = [
      ...findings.map(({ message, stretch }) => ({ message, stretch })),
      ...causes.map(({ message }) => ({ message, stretch: findings.find((each) => each.message === message)?.stretch })),
    ];
    for (const { message, stretch } of said) {
      sentences++;
      expect([message, falseIn(message, { entries, stretch })]).toEqual([message, undefined]);
    }
  });
  expect(sentences).toBeGreaterThan(runs);
}, 120_000);
