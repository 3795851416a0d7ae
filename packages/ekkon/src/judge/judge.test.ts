import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { failure, holds } from '../../tests/failure.ts';
import { forAllAsync } from '../../tests/for-all.ts';
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
  sequencesOf,
  type Told,
} from '../../tests/random-claims.ts';
import { leavesIn, leavesOf, mayPrecede, numbered, type Tree, unbrokenIn, wordsOf } from '../../tests/step-trees.ts';
import { never, once, times } from '../claim/count.ts';
import { during } from '../claim/during.ts';
import { claimOf, type HeldClaim } from '../claim/kinds.ts';
import { either, inTurn, loop } from '../claim/order/steps.ts';
import { leadsTo } from '../claim/precedence.ts';
import { openLedger } from '../ledger/open-ledger.ts';
import { suchThat } from '../match/such-that.ts';
import { Excerpts } from '../offline/excerpts.ts';
import { StreamJudge } from '../offline/stream-judge.ts';
import { call } from '../pattern/call.ts';
import { returned } from '../pattern/ends.ts';
import type { Claim } from '../record/claim-type.ts';
import { eventsOf as eventsInOrder } from '../record/events.ts';
import { isMark } from '../record/mark.ts';
import { attend } from '../wait/attend.ts';
import { check } from '../wait/check.ts';
import { addUsed } from './accounting.ts';
import { makeBlame } from './blame.ts';
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
function matches(step: Tree<Pattern>, inside: readonly Event[], world: World): boolean {
  const { steps, kinds } = numbered(step);
  const patterns = leavesIn(step);
  const heard = inside.filter((event) => patterns.some((pattern) => means(pattern, event, world)));
  const begins = (begin: number, end: number) => same(kinds[begin] as Pattern, calls(kinds[end] as Pattern));
  const belongs = kinds.map(({ is }, end) => is !== 'begin' && kinds.some((_, begin) => begins(begin, end) && mayPrecede(steps, begin, end)));
  /** Whether the step that takes an event may: an end belongs to a beginning that an equal step took, if one may come before it. */
  const takes = (word: readonly number[], at: number) => {
    const [event, taken] = [heard[at] as Event, word[at] as number];
    if (!means(kinds[taken] as Pattern, event, world)) return false;
    return !belongs[taken] || word.slice(0, at).some((begin, place) => begins(begin, taken) && heard[place]?.id === event.id);
  };
  const spans = unbrokenIn(steps).map(leavesIn);
  const isUnbroken = (word: readonly number[]) =>
    spans.every((span) => {
      const doubles = new Set(span.map((each) => kinds[each]?.of));
      const own = heard.filter((_, at) => span.includes(word[at] as number));
      const ticks = own.map(({ tick }) => tick);
      const [first, last] = [Math.min(...ticks), Math.max(...ticks)];
      return inside.every(
        (event) => event.is !== 'begin' || event.tick < first || event.tick > last || own.includes(event) || !doubles.has(event.of),
      );
    });
  return [...wordsOf(steps, heard.length)]
    .map(leavesOf)
    .some((word) => word.length === heard.length && word.every((_, at) => takes(word, at)) && isUnbroken(word));
}

const same = (one: Pattern, other: Pattern) => one.of === other.of && one.args === other.args && one.is === other.is;

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
  /** Judges claims after every move, and compares with the direct reading what is judged and what is known to whoever waits. */
  async function agrees(told: readonly Told[], made: readonly Move[]) {
    const parts = played();
    const { journal, evidence } = parts;
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
  }

  test('says of every claim, after every event, what a direct reading of every world says', async () => {
    await forAllAsync(runs, fc.array(claims, { minLength: 1, maxLength: 3 }), fc.array(moves, { maxLength: 8 }), agrees);
  }, 120_000);

  test('says so of deep sequences too, in which ends belong to their own beginnings', async () => {
    const any: Pattern = { of: 'a', args: 'any', is: 'begin' };
    const one: Pattern = { ...any, args: 1 };
    const own = { any, one, anyEnd: { ...any, is: 'fulfilled' }, oneEnd: { ...one, is: 'fulfilled' }, b: { ...one, of: 'b' } } as const;
    const of = (kind: 'then' | 'together' | 'either', ...steps: (Tree<Pattern> | keyof typeof own)[]): Tree<Pattern> => ({
      kind,
      parts: steps.map((step) => (typeof step === 'string' ? { kind: 'leaf', leaf: own[step] } : step)),
    });
    const loop = (most: number, part: Tree<Pattern>): Tree<Pattern> => ({ kind: 'loop', part, least: 0, most });
    const cases: readonly [Tree<Pattern>, readonly Move[]][] = [
      // The first end has no beginning before it that means the same, though another step of its pattern has.
      [of('together', of('then', 'oneEnd', 'any', 'one'), of('either', 'any', 'oneEnd')), ['a1', 'fulfil first', 'a2', 'a1']],
      // What comes before an end may come in an earlier turn of a loop, or in a part that comes in any order with it.
      [of('then', 'any', loop(2, of('either', 'one', 'oneEnd'))), ['a1', 'a1', 'fulfil first']],
      [of('then', 'any', of('together', of('then', 'oneEnd', 'one'), 'one')), ['a1', 'a1', 'fulfil first', 'a1']],
      [of('then', 'any', 'one', of('together', 'oneEnd', 'any')), ['a1', 'a1', 'fulfil first', 'a1']],
      [of('then', 'any', 'one', of('either', 'oneEnd', 'any')), ['a1', 'a1', 'fulfil first']],
      // A loop of no turns has no beginnings.
      [of('then', 'any', loop(0, of('then', 'one')), 'oneEnd'), ['a1', 'fulfil first']],
    ];
    for (const [step, made] of cases) await agrees([{ claim: 'inTurn', step }], made);
    const sequences = sequencesOf(fc.constantFrom(...Object.values(own)), 3).filter(({ step }) => numbered(step).kinds.length <= 16);
    const moved = fc.array(fc.constantFrom<Move>('a1', 'a2', 'a1', 'fulfil first', 'fulfil last', 'b1', 'b9'), { maxLength: 7 });
    await forAllAsync(runs, sequences, moved, (told, made) => agrees([told], made));
  }, 120_000);

  test('says the same of a claim from the part of a record that matters to it', async () => {
    let parted = 0;
    await forAllAsync(runs, claims, fc.array(moves, { maxLength: 40 }), async (told, made) => {
      const parts = played();
      const { journal, evidence } = parts;
      for (const move of made) await parts.play(move);
      const claim = claimOf(claimFor(parts, told)) as HeldClaim;
      const whole = judge([claim], evidence)[0];
      if (whole === undefined || whole.judged === 'holds') return;
      const blame = makeBlame([claim], journal, () => false);
      const excerpts = new Excerpts([claim], blame, 1, { nearest: 2, around: 2, most: 1_000 });
      const stream = new StreamJudge([claim], false, excerpts);
      eventsInOrder(journal).forEach((entry, at) => {
        if (entry === undefined || isMark(entry)) return;
        stream.tell(entry, entry.began !== at + 1, at + 1);
      });
      const said = `${claim.notation} after ${made.join(', ')}`;
      expect([said, stream.judgements(journal)[0]?.judged]).toEqual([said, whole.judged]);
      const [excerpt] = excerpts.all;
      const entries = excerpt?.entries() ?? [];
      if (entries.length < journal.entries.length) parted++;
      const part = excerpt?.judgement({ ...journal, entries }, whole.judged, stream.counts, { wanted: [], blame });
      expect([said, part?.judged, part?.diagnosis?.code]).toEqual([said, whole.judged, whole.diagnosis?.code]);
      // How often something came is told of the whole, but for what came in a stretch.
      if (claim.kind !== 'count') return;
      if (whole.diagnosis?.code === 'missingCall' || whole.diagnosis?.code === 'surplusCall')
        expect([said, part?.diagnosis]).toEqual([
          said,
          expect.objectContaining({ fittingCount: whole.diagnosis.fittingCount, calls: whole.diagnosis.calls }),
        ]);
    });
    expect(parted).toBeGreaterThan(runs / 10);
  }, 60_000);

  test('accounts for what a claim uses in every world, and for nothing else', async () => {
    await forAllAsync(runs, claims, fc.array(moves, { maxLength: 8 }), async (told, made) => {
      const parts = played();
      const { journal } = parts;
      for (const move of made) await parts.play(move);
      const claim = claimOf(claimFor(parts, told)) as HeldClaim;
      const events = eventsOf(parts);
      const inWorlds = worldsOf(events).map((world) => new Set(usedIn(told, events, 0, Number.POSITIVE_INFINITY, world)));
      const expected = events.map(({ id }) => id).filter((id) => inWorlds.every((used) => used.has(id)));
      const used = new Set<number>();
      addUsed(claim, journal, journal.tick, (id) => used.add(id));
      const said = `${claim.notation} after ${made.join(', ')}`;
      expect([said, [...used].sort()]).toEqual([said, [...new Set(expected)].sort()]);
    });
  }, 60_000);

  test('decides different ends of one call apart from each other', () => {
    const { evidence, a, b } = played();
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
    // It holds if both match and if none does, and not if the other one does alone.
    expect(judge([claim], evidence)[0]?.judged).toBe('undecided');
  });

  test('asks once of a call whether it matches, though it is heard as it begins and as it ends', () => {
    const { evidence, b } = played();
    b(2);
    let asked = 0;
    const first = suchThat(() => ++asked === 1, 'asked first');
    const claim = claimOf(inTurn(call(b, [first]), returned(call(b, [first])))) as HeldClaim;
    expect([judge([claim], evidence)[0]?.judged, asked]).toEqual(['holds', 1]);
  });

  test('takes a claim for undecided if there are too many ways to decide, and says so', () => {
    const { evidence, b } = played();
    for (let at = 0; at < 1_100; at++) b(9);
    const claim = claimOf(inTurn(loop('0..2000', call(b, [odd])))) as HeldClaim;
    const [judgement] = judge([claim], evidence);
    expect(judgement?.diagnosis).toMatchObject({ code: 'undecidedCall', tooMany: true });
    const unlike = Array.from({ length: 12 }, (_, at) => call(b, [suchThat(() => undefined as never, `is of kind ${at}`)]));
    const [split] = judge([claimOf(inTurn(loop('0..1200', inTurn(either(...(unlike as [(typeof unlike)[0]])))))) as HeldClaim], evidence);
    expect(split?.diagnosis).toMatchObject({ code: 'undecidedCall', tooMany: true });
    // Of ways that end in the same state only one is followed.
    const [followed] = judge([claimOf(leadsTo(call(b, [odd]), call(b, [1]))) as HeldClaim], evidence);
    expect(followed?.diagnosis).toMatchObject({ code: 'undecidedCall', tooMany: false });
    // What was decided of a call is forgotten as it ends.
    const pairs = inTurn(loop('0..*', inTurn(call(b, [odd]), returned(call(b, [odd])))));
    expect(judge([claimOf(pairs) as HeldClaim], evidence)[0]?.judged).toBe('holds');
    // Counts have two worlds, whatever their number.
    const counts = [times('0..1100', call(b, [odd])), never(call(b, [1])), once(call(b, [odd]))].map((each) => claimOf(each) as HeldClaim);
    expect(judge(counts, evidence).map(({ judged }) => judged)).toEqual(['holds', 'holds', 'undecided']);
  });
});

test('the first twelve calls of which it cannot be told are named, and all are counted', () => {
  const store = openLedger().callable<(star: number) => void>('store');
  for (let star = 0; star < 13; star++) store(star);
  const [finding] = failure(once(call(store, [suchThat(() => undefined as never)]))).verdict.findings;
  expect(finding).toMatchObject({ count: 13, culprits: [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12] });
});

test('a mark begins and ends a stretch, though nothing is recorded beside it, and accounts for what lies inside', () => {
  const { ledger, b, journal } = played();
  b(2);
  const dusk = ledger.mark('dusk');
  b(2);
  const dawn = ledger.mark('dawn');
  const used = (claim: Claim) => {
    check(claim);
    const ids: number[] = [];
    addUsed(claimOf(claim) as HeldClaim, journal, journal.tick, (id) => ids.push(id));
    return ids;
  };
  expect(used(during({ until: dusk }, once(call(b))))).toEqual([1]);
  expect(used(during({ from: dusk, until: dawn, endedOnly: true }, once(call(b))))).toEqual([2]);
  expect(used(during({ from: dawn }, never(call(b))))).toEqual([]);
  for (const until of [dusk, dawn])
    expect(() => during({ from: dawn, until }, never(call(b)))).toThrow(/mark "dawn" does not come before mark "(dusk|dawn)"/);
});

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
  for (const order of ordersAround(4)) {
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
        for (const [what, expected] of [
          [once, !isJudged || count === 1],
          [never, !isJudged || count === 0],
        ] as const) {
          if (holds(claim(what)) !== expected) wrong.push(`${order}: ${outer} p: ${inner} m: ${what.name} x, and not ${expected}`);
        }
      }
  }
  expect(wrong).toEqual([]);
});
