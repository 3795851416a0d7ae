import fc from 'fast-check';
import { expect, test } from 'vitest';
import { forAllAsync } from '../../tests/for-all.ts';
import { claimFor, claims, moves, played } from '../../tests/random-claims.ts';
import { recordedEvents } from '../alter/change.ts';
import { claimOf, type HeldClaim } from '../claim/kinds.ts';
import { Follower } from '../judge/follower.ts';
import { judgeLoosely, type PlacedEvent } from './loose-order.ts';

const runs = Number(process.env['EKKON_RUNS'] ?? 600);

/** Every order of events that keeps what has to come first. */
function* ordersOf(events: readonly PlacedEvent[], mayChange: (one: PlacedEvent, other: PlacedEvent) => boolean): Generator<readonly PlacedEvent[]> {
  if (events.length === 0) yield [];
  for (const [at, event] of events.entries()) {
    if (!events.slice(0, at).every((earlier) => mayChange(earlier, event))) continue;
    for (const rest of ordersOf(events.toSpliced(at, 1), mayChange)) yield [event, ...rest];
  }
}

test('a claim is judged in every order that events may have come in, as trying each of them says', async () => {
  const found = { holds: 0, fails: 0, undecided: 0 };
  await forAllAsync(runs, claims, fc.array(moves, { minLength: 2, maxLength: 7 }), fc.integer({ min: 1, max: 9 }), async (told, made, near) => {
    const parts = played();
    const { journal, evidence } = parts;
    for (const move of made) if (!move.endsWith('9')) await parts.play(move);
    // Every other entry is of another machine; what is near in ticks may change places.
    const mayChange = (one: PlacedEvent, other: PlacedEvent) => one.entry.id % 2 !== other.entry.id % 2 && other.tick - one.tick <= near;
    const events = recordedEvents(journal);
    const claim = claimOf(claimFor(parts, told)) as HeldClaim;
    const all = [...ordersOf(events, mayChange)].map((order) => {
      const follower = new Follower(claim);
      for (const { entry, end, tick } of order) follower.take(entry, end, tick);
      return follower.judged(evidence) === 'holds';
    });
    const expected = all.every(Boolean) ? 'holds' : all.some(Boolean) ? 'undecided' : 'fails';
    const said = `${claim.notation} after ${made.join(', ')} within ${near}`;
    const { judged, between } = judgeLoosely(claim, events, mayChange, evidence);
    expect([said, judged, between !== undefined]).toEqual([said, expected, expected === 'undecided']);
    found[expected]++;
  });
  expect(Math.min(...Object.values(found))).toBeGreaterThan(0);
}, 60_000);
