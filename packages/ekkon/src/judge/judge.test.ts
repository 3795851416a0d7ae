import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  calls,
  claimFor,
  claims,
  type Move,
  moves,
  odd,
  type Pattern,
  type Played,
  played,
  type Step,
  type Told,
} from '../../tests/random-claims.ts';
import { claimOf, type HeldClaim } from '../claim/kinds.ts';
import {
  type Claim,
  ClaimError,
  call,
  check,
  during,
  either,
  fulfilled,
  inTurn,
  leadsTo,
  loop,
  never,
  once,
  openLedger,
  optional,
  returned,
  settled,
  suchThat,
  times,
  unbroken,
} from '../index.ts';
import { Excerpt } from '../offline/excerpt.ts';
import { StreamJudge } from '../offline/stream-judge.ts';
import { eventsOf as eventsInOrder } from '../record/events.ts';
import type { Journal } from '../record/journal.ts';
import { isMark } from '../record/mark.ts';
import { tied } from '../record/tie.ts';
import { attend } from '../wait/attend.ts';
import { addUsed } from './accounting.ts';
import { makeEvidence } from './evidence.ts';
import { judge } from './judge.ts';

/** One event as the oracle knows it: of a or b, or an item of rain. */
interface Event {
  readonly tick: number;
  readonly id: number;
  readonly of: 'a' | 'b' | 'rain';
  readonly arg: number;
  /** `begin`, or how it ended. */
  readonly is: 'begin' | 'fulfilled' | 'rejected' | 'returned' | 'threw';
  readonly began: number;
}

/** A world: whether the calls with argument 9 fit `odd`, call by call. */
type World = (id: number, of: Pattern['of']) => boolean;

const argsFit = ({ args }: Pattern, { arg, id, of }: Event, world: World) =>
  args === 'any' || (args === 'odd' ? (arg === 9 ? world(id, of) : arg % 2 === 1) : arg === args);
const means = (pattern: Pattern, event: Event, world: World) =>
  pattern.of === event.of &&
  (pattern.is === event.is || (pattern.is === 'settled' && (event.is === 'fulfilled' || event.is === 'rejected'))) &&
  argsFit(pattern, event, world);
const inRange = (count: number, { least, most }: { readonly least: number; readonly most: number }) => count >= least && count <= most;

/** The design's meaning read directly: a claim on the events between two ticks, in one world. */
function holdsIn(told: Told, all: readonly Event[], after: number, before: number, world: World): boolean {
  const inside = all.filter(({ tick }) => tick > after && tick < before);
  const those = (pattern: Pattern) => inside.filter((event) => means(pattern, event, world));
  switch (told.claim) {
    case 'times':
      return inRange(those(told.of).length, told);
    case 'unfinished': {
      const begun = those(told.of);
      return inRange(begun.filter(({ id }) => !inside.some((event) => event.id === id && event.is !== 'begin')).length, told);
    }
    case 'inFlight': {
      const fitting = all.filter((event) => means(told.of, event, world) && event.tick < before);
      const endOf = (id: number) => all.find((event) => event.id === id && event.is !== 'begin')?.tick ?? Number.POSITIVE_INFINITY;
      const moments = [after, ...inside.map(({ tick }) => tick)];
      const peak = Math.max(...moments.map((tick) => fitting.filter(({ id, began }) => began <= tick && endOf(id) > tick).length));
      return inRange(Math.max(0, peak), told);
    }
    case 'onlyAfter':
      return those(told.of).every(({ tick }) => those(told.other).some((other) => other.tick < tick));
    case 'leadsTo':
      return those(told.of).every(({ tick }) => those(told.other).some((other) => other.tick > tick));
    case 'items': {
      const items = inside.filter(({ of }) => of === 'rain').map(({ arg }) => arg);
      return items.length === told.items.length && items.every((value, at) => value === told.items[at]);
    }
    case 'inTurn':
      return matches(
        told.step,
        inside.filter(({ is, began }) => is === 'begin' || began > after),
        world,
      );
    case 'during':
      return stretchesOf(told, all, after, before, world).every(([start, end]) => holdsIn(told.inner, all, start, end, world));
  }
}

function stretchesOf(told: Told & { readonly claim: 'during' }, all: readonly Event[], after: number, before: number, world: World) {
  const { from, until, endedOnly } = told;
  const inside = all.filter(({ tick }) => tick > after && tick < before);
  const starts = from === undefined ? [{ tick: after, id: 0 }] : inside.filter((event) => means(from, event, world));
  const ends = until === undefined ? [] : inside.filter((event) => means(until, event, world));
  const isOwn =
    from !== undefined && until !== undefined && from.is === 'begin' && until.is !== 'begin' && from.of === until.of && from.args === until.args;
  const found: (readonly [number, number])[] = [];
  let free = Number.NEGATIVE_INFINITY;
  for (const { tick, id } of starts) {
    if (!isOwn && tick < free) continue;
    const end = ends.find((each) => each.tick > tick && (!isOwn || each.id === id))?.tick;
    free = end ?? before;
    if (end !== undefined || !endedOnly) found.push([tick, end ?? before]);
  }
  return found;
}

/** The entries that a claim accounts for, in one world: those of which an event fits a pattern of it, inside its stretches. */
function usedIn(told: Told, all: readonly Event[], after: number, before: number, world: World): readonly number[] {
  if (told.claim === 'during')
    return stretchesOf(told, all, after, before, world).flatMap(([start, end]) => usedIn(told.inner, all, start, end, world));
  const inside = all.filter(({ tick }) => tick > after && tick < before);
  return inside.filter((event) => usesOf(told).some((pattern) => means(pattern, event, world))).map(({ id }) => id);
}

function usesOf(told: Told): readonly Pattern[] {
  switch (told.claim) {
    case 'times':
    case 'unfinished':
    case 'inFlight':
      return told.most === 0 ? [] : [told.of];
    case 'onlyAfter':
    case 'leadsTo':
      return [told.of, told.other];
    case 'inTurn':
      return leavesIn(told.step);
    case 'items':
      return [{ of: 'rain', args: 'any', is: 'begin' }];
    case 'during':
      return usesOf(told.inner);
  }
}

/** Whether the events that fit any step are taken in some way that the step allows: by trying all of them. */
function matches(written: Step, events: readonly Event[], world: World): boolean {
  const step = unrolled(written);
  const leaves = leavesIn(step);
  const heard = events.filter((event) => leavesIn(written).some((leaf) => means(leaf, event, world)));
  const needs = (leaf: Pattern, word: readonly Pattern[], at: number) =>
    leaf.is !== 'begin' &&
    couldPrecede.get(leaf) === true &&
    !word.slice(0, at).some((other, place) => same(other, calls(leaf)) && heard[place]?.id === heard[at]?.id);
  const couldPrecede = new Map(leaves.map((leaf) => [leaf, leaves.some((other) => same(other, calls(leaf)) && mayPrecede(step, other, leaf))]));
  return wordsOf(step, heard.length).some(
    (word) => word.length === heard.length && word.every((leaf, at) => means(leaf, heard[at] as Event, world) && !needs(leaf, word, at)),
  );
}

const same = (one: Pattern, other: Pattern) => one.of === other.of && one.args === other.args && one.is === other.is;

const leavesIn = (step: Step): readonly Pattern[] =>
  step.step === 'event' ? [step.of] : step.step === 'loop' ? leavesIn(step.part) : step.parts.flatMap(leavesIn);

/** The step with each turn of a loop written out, so that every leaf is an object of its own. */
function unrolled(step: Step): Step {
  switch (step.step) {
    case 'event':
      return { step: 'event', of: { ...step.of } };
    case 'loop':
      return Array.from({ length: step.most }, (_, turn) => turn).reduceRight<Step>(
        (rest, turn) => ({
          step: 'loop',
          part: { step: 'then', parts: [unrolled(step.part), rest] },
          least: turn < step.least ? 1 : 0,
          most: 1,
        }),
        { step: 'then', parts: [] },
      );
    default:
      return { ...step, parts: step.parts.map(unrolled) };
  }
}

/** Whether one leaf may come before another: in the innermost step that holds both, its part comes first, or in any order. */
function mayPrecede(step: Step, one: Pattern, other: Pattern): boolean {
  if (step.step === 'event') return false;
  if (step.step === 'loop') return mayPrecede(step.part, one, other);
  const [first, second] = [one, other].map((leaf) => step.parts.findIndex((part) => leavesIn(part).includes(leaf))) as [number, number];
  if (first === second) return first >= 0 && mayPrecede(step.parts[first] as Step, one, other);
  return step.step === 'together' || (step.step === 'then' && first < second);
}

function wordsOf(step: Step, longest: number): readonly (readonly Pattern[])[] {
  const joined = (ones: readonly (readonly Pattern[])[], others: readonly (readonly Pattern[])[], shuffle: boolean) =>
    ones.flatMap((one) =>
      others.flatMap((other) => (one.length + other.length > longest ? [] : shuffle ? shuffles(one, other) : [[...one, ...other]])),
    );
  switch (step.step) {
    case 'event':
      return longest > 0 ? [[step.of]] : [];
    case 'either':
      return step.parts.flatMap((part) => wordsOf(part, longest));
    case 'then':
    case 'together':
      return step.parts.reduce<readonly (readonly Pattern[])[]>(
        (words, part) => joined(words, wordsOf(part, longest), step.step === 'together'),
        [[]],
      );
    case 'loop': {
      const found: (readonly Pattern[])[] = [];
      let words: readonly (readonly Pattern[])[] = [[]];
      for (let count = 0; count <= Math.min(step.most, longest + step.least); count++) {
        if (count >= step.least) found.push(...words);
        words = joined(words, wordsOf(step.part, longest), false);
      }
      return found;
    }
  }
}

function shuffles(one: readonly Pattern[], other: readonly Pattern[]): readonly (readonly Pattern[])[] {
  const [first, ...rest] = one;
  const [second, ...others] = other;
  if (first === undefined || second === undefined) return [[...one, ...other]];
  return [...shuffles(rest, other).map((word) => [first, ...word]), ...shuffles(one, others).map((word) => [second, ...word])];
}

function eventsOf({ ledger }: Played): readonly Event[] {
  return ledger
    .entries()
    .flatMap(({ id, label, args: [arg], began, ended, outcome, kind }) => {
      const of = label as Event['of'];
      const base = { id, of, arg: Number(arg), began };
      const begin: Event = { ...base, tick: began, is: 'begin' };
      if (ended === undefined || kind === 'item') return [begin];
      return [begin, { ...base, tick: ended, is: outcome.state as Event['is'] }];
    })
    .sort((one, other) => one.tick - other.tick);
}

function worldsOf(events: readonly Event[]): readonly World[] {
  const open = [...new Set(events.filter(({ arg }) => arg === 9).map(({ id }) => id))];
  return Array.from({ length: 2 ** open.length }, (_, bits) => (id: number) => (bits & (1 << open.indexOf(id))) !== 0);
}

/** How a claim stands by the direct reading: in every world, in none, or in some. */
function readDirectly(told: Told, events: readonly Event[]): 'holds' | 'fails' | 'undecided' {
  const answers = worldsOf(events).map((world) => holdsIn(told, events, 0, Number.POSITIVE_INFINITY, world));
  return answers.every(Boolean) ? 'holds' : answers.some(Boolean) ? 'undecided' : 'fails';
}

const runs = Number(process.env['EKKON_RUNS'] ?? 1_000);

describe('the one judge', () => {
  test('says of every claim, after every event, what a direct reading of every world says', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(claims, { minLength: 1, maxLength: 3 }), fc.array(moves, { maxLength: 8 }), async (told, made) => {
        const parts = played();
        const journal = tied(parts.ledger)?.journal;
        if (journal === undefined) throw new Error('no journal');
        const evidence = makeEvidence(
          journal,
          () => new Set(),
          () => [],
        );
        const held = told.map((each) => ({ told: each, claim: claimOf(claimFor(parts, each)) as HeldClaim }));
        const attended = held.map(({ claim }) => {
          const attention = attend(claim, journal, evidence);
          // Whoever waits looks when it is told to, and knows nothing else.
          const known = { standing: attention.standing, lost: false };
          attention.listen(() => {
            known.standing = attention.standing;
          });
          return known;
        });
        for (const move of made) {
          await parts.play(move);
          const events = eventsOf(parts);
          const judged = judge(
            held.map(({ claim }) => claim),
            evidence,
          );
          held.forEach(({ told: each, claim }, at) => {
            const said = `${claim.notation} after ${made.join(', ')}`;
            const directly = readDirectly(each, events);
            expect([said, judged[at]?.judged]).toEqual([said, directly]);
            const known = attended[at];
            expect([said, known?.standing === 'holds']).toEqual([said, directly === 'holds']);
            if (known === undefined) return;
            known.lost ||= known.standing === 'lost';
            if (known.lost) expect([said, known.standing]).toEqual([said, 'lost']);
          });
        }
      }),
      { numRuns: runs },
    );
  }, 120_000);

  test('says the same of a claim from the part of a record that matters to it', async () => {
    let parted = 0;
    await fc.assert(
      fc.asyncProperty(claims, fc.array(moves, { maxLength: 40 }), async (told, made) => {
        const parts = played();
        const journal = tied(parts.ledger)?.journal;
        if (journal === undefined) throw new Error('no journal');
        for (const move of made) await parts.play(move);
        const evidence = makeEvidence(
          journal,
          () => new Set(),
          () => [],
        );
        const claim = claimOf(claimFor(parts, told)) as HeldClaim;
        const whole = judge([claim], evidence)[0];
        if (whole === undefined || whole.judged === 'holds') return;
        const excerpt = new Excerpt(claim, { nearest: 2, around: 2, most: 1_000 });
        const stream = new StreamJudge([claim], false);
        eventsInOrder(journal).forEach((entry, at) => {
          if (entry === undefined || isMark(entry)) return;
          for (const listener of [excerpt, stream]) listener.tell(entry, entry.began !== at + 1, at + 1);
        });
        const said = `${claim.notation} after ${made.join(', ')}`;
        expect([said, stream.judgements(journal)[0]?.judged]).toEqual([said, whole.judged]);
        if ((excerpt.entries()?.length ?? 0) < journal.entries.length) parted++;
        const part = excerpt.judgement(journal, whole.judged, stream.counts);
        expect([said, part?.judged, part?.diagnosis?.code]).toEqual([said, whole.judged, whole.diagnosis?.code]);
        // How often something came is told of the whole, but for what came in a stretch.
        if (claim.kind !== 'count') return;
        if (whole.diagnosis?.code === 'missingCall' || whole.diagnosis?.code === 'surplusCall')
          expect([said, part?.diagnosis]).toEqual([
            said,
            expect.objectContaining({ fittingCount: whole.diagnosis.fittingCount, calls: whole.diagnosis.calls }),
          ]);
      }),
      { numRuns: runs },
    );
    expect(parted).toBeGreaterThan(runs / 10);
  }, 60_000);

  test('accounts for what a claim uses in every world, and for nothing else', async () => {
    await fc.assert(
      fc.asyncProperty(claims, fc.array(moves, { maxLength: 8 }), async (told, made) => {
        const parts = played();
        const journal = tied(parts.ledger)?.journal;
        if (journal === undefined) throw new Error('no journal');
        for (const move of made) await parts.play(move);
        const claim = claimOf(claimFor(parts, told)) as HeldClaim;
        const events = eventsOf(parts);
        const inWorlds = worldsOf(events).map((world) => new Set(usedIn(told, events, 0, Number.POSITIVE_INFINITY, world)));
        const expected = events.map(({ id }) => id).filter((id) => inWorlds.every((used) => used.has(id)));
        const used = new Set<number>();
        addUsed(claim, journal, journal.tick, (id) => used.add(id));
        const said = `${claim.notation} after ${made.join(', ')}`;
        expect([said, [...used].sort()]).toEqual([said, [...new Set(expected)].sort()]);
      }),
      { numRuns: runs },
    );
  }, 60_000);

  test('decides different ends of one call apart from each other', () => {
    const { ledger, a, b } = played();
    a(1);
    const end = (name: string) =>
      returned(
        call(a),
        suchThat((): boolean => {
          throw new Error(name);
        }, name),
      );
    const [one, other] = [end('one'), end('other')];
    const claim = claimOf(inTurn(either(loop('0..*', one), inTurn(other, call(b))))) as HeldClaim;
    const journal = tied(ledger)?.journal as Journal;
    const evidence = makeEvidence(
      journal,
      () => new Set(),
      () => [],
    );
    // It holds if both match and if none does, and not if the other one does alone.
    expect(judge([claim], evidence)[0]?.judged).toBe('undecided');
  });

  test('takes a claim for undecided if there are too many ways to decide, and says so', () => {
    const { ledger, b } = played();
    const journal = tied(ledger)?.journal;
    if (journal === undefined) throw new Error('no journal');
    for (let at = 0; at < 1_100; at++) b(9);
    const claim = claimOf(inTurn(loop('0..2000', call(b, [odd])))) as HeldClaim;
    const evidence = makeEvidence(
      journal,
      () => new Set(),
      () => [],
    );
    const [judgement] = judge([claim], evidence);
    expect(judgement?.diagnosis).toMatchObject({ code: 'undecidedCall', tooMany: true });
    // Of ways that end in the same state only one is followed.
    const [followed] = judge([claimOf(leadsTo(call(b, [odd]), call(b, [1]))) as HeldClaim], evidence);
    expect(followed?.diagnosis).toMatchObject({ code: 'undecidedCall', tooMany: false });
    // Counts have two worlds, whatever their number.
    const counts = [times('0..1100', call(b, [odd])), never(call(b, [1])), once(call(b, [odd]))].map((each) => claimOf(each) as HeldClaim);
    expect(judge(counts, evidence).map(({ judged }) => judged)).toEqual(['holds', 'holds', 'undecided']);
  });
});

test('beginnings that fit no step are heard by unbroken steps, in stretches too', async () => {
  const parts = played();
  const { a, b } = parts;
  await parts.play('a2');
  await parts.play('b9');
  await parts.play('a1');
  await parts.play('b9');
  const journal = tied(parts.ledger)?.journal;
  if (journal === undefined) throw new Error('no journal');
  const evidence = makeEvidence(
    journal,
    () => new Set(),
    () => [],
  );
  const judged = (claim: Claim) => judge([claimOf(claim) as HeldClaim], evidence)[0]?.judged;
  const pair = () => unbroken(call(b), call(b));
  expect(judged(inTurn(pair()))).toBe('holds');
  expect(judged(inTurn(unbroken(call(a, [2]), call(b), optional(call(b)))))).toBe('fails');
  expect(judged(during({ from: call(a, [1]) }, inTurn(unbroken(call(a, [1]), call(b)))))).toBe('fails');
});

test('a mark begins and ends a stretch, though nothing is recorded beside it, and accounts for what lies inside', () => {
  const ledger = openLedger({ rules: 'loose' });
  const b = ledger.callable<(n: number) => void>('b');
  const c = ledger.callable<() => void>('c');
  const holds = (claim: Claim) => {
    const journal = tied(ledger)?.journal;
    if (journal === undefined) throw new Error('no journal');
    const held = claimOf(claim) as HeldClaim;
    const evidence = makeEvidence(
      journal,
      () => new Set(),
      () => [],
    );
    const used: number[] = [];
    addUsed(held, journal, journal.tick, (id) => used.push(id));
    return [judge([held], evidence)[0]?.judged, used];
  };
  b(1);
  const dusk = ledger.mark('dusk');
  b(2);
  const dawn = ledger.mark('dawn');
  expect(holds(during({ from: dawn }, once(call(b))))).toEqual(['fails', []]);
  expect(holds(during({ from: dusk, until: dawn }, once(call(b))))).toEqual(['holds', [2]]);
  expect(holds(during({ from: dawn }, never(call(b))))).toEqual(['holds', []]);
  c();
  b(3);
  expect(holds(during({ from: dusk, until: dawn, endedOnly: true }, once(call(b))))).toEqual(['holds', [2]]);
  expect(holds(during({ until: dusk }, once(call(b))))).toEqual(['holds', [1]]);
  expect(holds(during({ from: dusk }, times(2, call(b))))).toEqual(['holds', [3 + 1, 2]]);
  expect(holds(during({ from: call(c), until: dawn, endedOnly: true }, once(call(b))))).toEqual(['holds', []]);
  expect(holds(during({ from: dusk }, during({ until: dawn }, once(call(b, [2])))))).toEqual(['holds', [2]]);
  expect(holds(during({ from: call(c) }, during({ from: dusk }, never(call(b)))))).toEqual(['holds', []]);
  for (const until of [dusk, dawn])
    expect(() => during({ from: dawn, until }, never(call(b)))).toThrow(/mark "dawn" does not come before mark "(dusk|dawn)"/);
});

test('stretches that overlap account each for what lies inside it', async () => {
  const parts = played();
  const journal = tied(parts.ledger)?.journal;
  if (journal === undefined) throw new Error('no journal');
  for (const move of ['a1', 'b2', 'a2', 'b2', 'fulfil first', 'b2', 'fulfil last', 'b2'] as const) await parts.play(move as Move);
  const used = (claim: Claim) => {
    const ids: number[] = [];
    addUsed(claimOf(claim) as HeldClaim, journal, journal.tick, (id) => ids.push(id));
    return [...new Set(ids)].sort();
  };
  const { a, b } = parts;
  const own = { from: call(a), until: settled(call(a)) };
  expect(used(during(own, times('0..9', call(b))))).toEqual([2, 4, 5]);
  expect(used(during(own, never(call(b))))).toEqual([]);
  expect(used(during({ from: call(a, [2]), until: settled(call(a, [2])) }, times('0..9', call(b))))).toEqual([4, 5]);
  expect(used(during({ ...own, endedOnly: true }, inTurn(call(b), fulfilled(call(a)))))).toEqual([1, 2, 4, 5]);
});

/** Whether a claim holds; a contradiction of Ekkon's own is none of either. */
function sayOf(claim: Claim): string {
  try {
    check(claim);
    return 'holds';
  } catch (error) {
    return error instanceof ClaimError ? 'fails' : String(error);
  }
}

/** Every order of some events of two kinds around one mark. */
function ordersAround(length: number): readonly string[] {
  if (length === 0) return ['m'];
  const shorter = ordersAround(length - 1);
  const grown = shorter.flatMap((order) =>
    ['p', 'x'].flatMap((each) => Array.from({ length: order.length + 1 }, (_, at) => order.slice(0, at) + each + order.slice(at))),
  );
  return [...new Set([...shorter, ...grown])];
}

test('a mark begins and ends something in those stretches alone in which it lies', () => {
  const wrong: string[] = [];
  for (const order of ordersAround(5)) {
    const ledger = openLedger({ rules: 'loose' });
    const [p, x] = [ledger.callable<() => void>('p'), ledger.callable<() => void>('x')];
    let mark = ledger.mark('unused');
    for (const each of order) {
      if (each === 'm') mark = ledger.mark('m');
      else (each === 'p' ? p : x)();
    }
    const [first, m] = [order.indexOf('p'), order.indexOf('m')];
    for (const outer of ['from', 'until'] as const)
      for (const inner of ['from', 'until'] as const) {
        // Where the outer stretch lies, and the one inside of it; a place of -1 is before everything.
        const [from, to] = outer === 'from' ? [first, first < 0 ? -1 : order.length] : [-1, first < 0 ? order.length : first];
        const isThere = outer === 'until' || first >= 0;
        const isInside = m > from && m < to;
        const [begin, end] = inner === 'from' ? [m, isInside ? to : m] : [from, isInside ? m : to];
        const count = [...order.slice(Math.max(0, begin + 1), end)].filter((each) => each === 'x').length;
        const isJudged = isThere && (inner === 'until' || isInside);
        const claim = (what: typeof once | typeof never) => during({ [outer]: call(p) } as never, during({ [inner]: mark } as never, what(call(x))));
        for (const [what, holds] of [
          [once, !isJudged || count === 1],
          [never, !isJudged || count === 0],
        ] as const) {
          const said = sayOf(claim(what));
          if (said !== (holds ? 'holds' : 'fails')) wrong.push(`${order}: ${outer} p: ${inner} m: ${what.name} x ${said}`);
        }
      }
  }
  expect(wrong).toEqual([]);
});
