import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { holds, leavesIn, mayPrecede, numbered, stepOf, type Tree, wordsOf } from '../../../tests/step-trees.ts';
import { cheapestEdit } from '../../explain/cheapest-edit.ts';
import { everything } from '../../explain/window.ts';
import { call, check, deferred, during, either, fulfilled, inTurn, loop, openLedger, plan, type StepLike } from '../../index.ts';
import { tied } from '../../record/tie.ts';
import { isAlwaysTrue } from './always-true.ts';
import { acceptorOf, eventsFor } from './explain-order.ts';
import { startOf } from './sequence-state.ts';
import type { HeldOrder } from './steps.ts';

const { tree: trees } = fc.letrec<{ tree: Tree }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 3, withCrossShrink: true },
    fc.record({ kind: fc.constant('leaf' as const), leaf: fc.nat(2) }),
    fc.record({
      kind: fc.constantFrom('then' as const, 'together' as const, 'either' as const),
      parts: fc.array(tie('tree'), { minLength: 1, maxLength: 3 }),
    }),
    fc.record({
      kind: fc.constant('loop' as const),
      part: tie('tree'),
      least: fc.nat(2),
      most: fc.integer({ min: 2, max: 3 }),
    }),
  ),
}));

/** Leaf 0 is any call of a, leaf 1 any of b, leaf 2 one of a with 1: they overlap. */
function record(events: readonly number[]) {
  const ledger = openLedger({ callSites: 0 });
  const { a, b } = {
    a: ledger.callable<(n: number) => void>('a'),
    b: ledger.callable<(n: number) => void>('b'),
  };
  const other = ledger.callable<() => void>('other');
  const patterns = [call(a), call(b), call(a, [1])];
  for (const event of events) {
    other();
    if (event === 2) b(0);
    else a(event);
  }
  return { ledger, patterns };
}
const fits = (event: number, leaf: string) => (event === 2 ? leaf === '1' : leaf === '0' || (leaf === '2' && event === 1));

describe('a sequence', () => {
  const cases = fc.tuple(trees, fc.array(fc.nat(2), { maxLength: 5 }));

  test('holds exactly where one of all the orders it allows is the one that came', () => {
    fc.assert(
      fc.property(cases, ([tree, events]) => {
        const { patterns } = record(events);
        const { patterns: own } = { patterns };
        const considered = events.filter((event) => leavesIn(tree).some((leaf) => fits(event, String(leaf))));
        const allowed = [...wordsOf(tree, considered.length)].some(
          (word) => word.length === considered.length && considered.every((event, at) => fits(event, word[at] ?? '')),
        );
        expect(holds(inTurn(stepOf(tree, own)))).toBe(allowed);
      }),
      { numRuns: 600 },
    );
  });

  test('is explained at the least cost that brute force finds', () => {
    fc.assert(
      fc.property(fc.tuple(trees, fc.array(fc.nat(2), { maxLength: 4 })), ([tree, events]) => {
        const { ledger, patterns } = record(events);
        const claim = inTurn(stepOf(tree, patterns)) as unknown as HeldOrder;
        const sequence = claim.sequence();
        const journal = tied(ledger)?.journal;
        if (journal === undefined) throw new Error('no journal');
        const considered = eventsFor(sequence, journal, everything);
        const kinds = considered.map(({ entry }) => (entry.target.label === 'b' ? 2 : Number(entry.args[0])));
        const longest = kinds.length + 6;
        const words = [...wordsOf(tree, longest)];
        fc.pre(words.length > 0 && words.length < 3_000);
        const least = Math.min(...words.map((word) => editDistance(kinds, word)));
        // A longer word needs at least so many leaves put in: only if that is not cheaper are these words enough.
        fc.pre(least <= longest + 1 - kinds.length);
        const found = cheapestEdit(acceptorOf(sequence, considered), 0, considered.length, startOf(sequence));
        expect(found?.cost).toBe(least);
      }),
      { numRuns: 300 },
    );
  });

  /** Events left out and leaves put in, at least: the usual table. */
  function editDistance(events: readonly number[], word: string): number {
    let last = Array.from({ length: word.length + 1 }, (_, at) => at);
    for (const [row, event] of events.entries()) {
      const current = [row + 1];
      for (let at = 1; at <= word.length; at++) {
        const taken = fits(event, word[at - 1] ?? '') ? (last[at - 1] ?? 0) : Number.POSITIVE_INFINITY;
        current.push(Math.min((last[at] ?? 0) + 1, (current[at - 1] ?? 0) + 1, taken));
      }
      last = current;
    }
    return last[word.length] ?? 0;
  }
});

/** An event of the double `a`: a call of it, or the end of one. */
interface Moment {
  readonly id: number;
  readonly arg: number;
  readonly end: boolean;
}

/** A double that is called and whose calls are fulfilled: 0 and 1 call it with these, 2 ends its first call under way, 3 the last. */
async function beganAndEnded(made: readonly number[]) {
  const ledger = openLedger({ callSites: 0, rules: { alwaysTrueClaim: 'allow' } });
  const a = ledger.callable<(n: number) => Promise<void>>('a');
  const events: Moment[] = [];
  const open: { id: number; arg: number; reply: ReturnType<typeof deferred<void>> }[] = [];
  for (const move of made) {
    if (move < 2) {
      const reply = deferred<void>();
      plan(call(a), reply);
      void a(move);
      await Promise.resolve();
      const id = ledger.entries().length;
      events.push({ id, arg: move, end: false });
      open.push({ id, arg: move, reply });
    } else {
      const [ended] = open.splice(move === 2 ? 0 : -1, 1);
      ended?.reply.fulfil();
      if (ended !== undefined) events.push({ id: ended.id, arg: ended.arg, end: true });
    }
  }
  return { a, events };
}

/** Leaves 0 call(a), 1 call(a, [1]), 2 fulfilled of the first, 3 fulfilled of the second. */
const momentsOf = (a: (n: number) => Promise<void>) => [call(a), call(a, [1]), fulfilled(call(a)), fulfilled(call(a, [1]))];

test('ends belong to their own beginnings exactly as brute force over all assignments has it', async () => {
  const leaf = fc.record({ kind: fc.constant('leaf' as const), leaf: fc.nat(3) });
  const parts = fc.array(leaf, { minLength: 1, maxLength: 3 });
  const inner = fc.record({ kind: fc.constantFrom('then' as const, 'together' as const, 'either' as const), parts });
  const looped = fc.record({ kind: fc.constant('loop' as const), part: inner, least: fc.nat(1), most: fc.constant(2) });
  const tree: fc.Arbitrary<Tree> = fc.record({
    kind: fc.constantFrom('then' as const, 'together' as const),
    parts: fc.array(fc.oneof(leaf, inner, { weight: 1, arbitrary: looped }), { minLength: 1, maxLength: 3 }),
  });
  const moves = fc.array(fc.nat(3), { maxLength: 6 });
  const of = (kind: 'then' | 'together' | 'either', ...steps: (Tree | number)[]): Tree => ({
    kind,
    parts: steps.map((step) => (typeof step === 'number' ? { kind: 'leaf', leaf: step } : step)),
  });
  await fc.assert(
    fc.asyncProperty(tree, moves, async (written, made) => {
      const { steps, kinds } = numbered(written);
      const { a, events } = await beganAndEnded(made);
      const meets = ({ arg, end }: Moment, kind: number) => end === kind > 1 && (kind % 2 === 0 || arg === 1);
      const considered = events.filter((event) => kinds.some((kind) => meets(event, kind)));
      const words = [...wordsOf(steps, considered.length)].map((word) => [...word].map((step) => Number.parseInt(step, 36)));
      const begins = (begin: number, end: number) => kinds[begin] === (kinds[end] as number) - 2;
      const belongs = kinds.map((_, end) => kinds.some((_, begin) => begins(begin, end) && mayPrecede(steps, begin, end)));
      const allowed = words.some(
        (word) =>
          word.length === considered.length &&
          word.every((step, place) => {
            const event = considered[place] as Moment;
            if (!meets(event, kinds[step] as number)) return false;
            return !belongs[step] || word.slice(0, place).some((begin, other) => begins(begin, step) && considered[other]?.id === event.id);
          }),
      );
      expect(holds(inTurn(stepOf(written, momentsOf(a))))).toBe(allowed);
    }),
    {
      numRuns: 1_000,
      examples: [
        // The first end has no beginning before it that means the same, though another step of its pattern has.
        [of('together', of('then', 3, 0, 1), of('either', 0, 3)), [1, 2, 0, 1]],
        // What comes before an end may come in an earlier turn of a loop, or in a part that comes in any order with it.
        [of('then', 0, { kind: 'loop', part: of('either', 1, 3), least: 0, most: 2 }), [1, 1, 2]],
        [of('then', 0, of('together', of('then', 3, 1), 1)), [1, 1, 2, 1]],
        [of('then', 0, 1, of('together', 3, 0)), [1, 1, 2, 1]],
        [of('then', 0, 1, of('either', 3, 0)), [1, 1, 2]],
        // A loop of no turns has no beginnings.
        [of('then', 0, { kind: 'loop', part: of('then', 1), least: 0, most: 0 }, 3), [1, 2]],
      ],
    },
  );
});

test('a sequence that is said to hold always does so after whatever came', async () => {
  const leaf = fc.record({ kind: fc.constant('leaf' as const), leaf: fc.nat(3) });
  const part = fc.oneof(
    { weight: 4, arbitrary: leaf },
    fc.record({
      kind: fc.constantFrom('then' as const, 'together' as const, 'either' as const),
      parts: fc.array(leaf, { minLength: 1, maxLength: 2 }),
    }),
  );
  const tree = fc.array(part, { minLength: 1, maxLength: 4 });
  let found = 0;
  await fc.assert(
    fc.asyncProperty(tree, fc.array(fc.nat(3), { maxLength: 8 }), async (parts, made) => {
      const { a } = await beganAndEnded(made);
      const claim = inTurn(loop('0..*', either(...parts.map((each) => stepOf(each, momentsOf(a))))));
      if (!isAlwaysTrue((claim as unknown as HeldOrder).sequence())) return;
      found++;
      expect(holds(claim)).toBe(true);
    }),
    { numRuns: 600 },
  );
  expect(found).toBeGreaterThan(100);
});

test('loops inside of one another are made ready in no time to speak of, with ends and without', async () => {
  const { a } = await beganAndEnded([0, 2]);
  for (const inside of [call(a, [1]), fulfilled(call(a, [1]))]) {
    const nested = Array.from({ length: 30 }).reduce<StepLike>((step) => loop('0..*', inTurn(step, call(a, [1]))), inside);
    expect(holds(inTurn(call(a), nested))).toBe(true);
  }
});

test('nothing else begins on the doubles of unbroken steps, exactly as brute force over all assignments has it', () => {
  const members = ['dome.open', 'dome.close', 'mount.track', 'mount.park', 'lamp.on'] as const;
  const { tree } = fc.letrec<{ tree: Tree }>((tie) => ({
    tree: fc.oneof(
      { maxDepth: 3 },
      fc.record({ kind: fc.constant('leaf' as const), leaf: fc.nat(2) }),
      fc.record({
        kind: fc.constantFrom('then' as const, 'together' as const, 'either' as const, 'unbroken' as const, 'unbroken' as const),
        parts: fc.array(tie('tree'), { minLength: 1, maxLength: 3 }),
      }),
      fc.record({ kind: fc.constant('loop' as const), part: tie('tree'), least: fc.nat(1), most: fc.constant(2) }),
    ),
  }));
  /** Every unbroken step in a tree. */
  const unbrokenIn = (within: Tree): readonly Tree[] => {
    if (within.kind === 'leaf') return [];
    const inner = (within.kind === 'loop' ? [within.part] : within.parts).flatMap(unbrokenIn);
    return within.kind === 'unbroken' ? [within, ...inner] : inner;
  };
  const doubleOf = (member: number) => (members[member] as string).split('.')[0];
  fc.assert(
    fc.property(tree, fc.array(fc.nat(4), { maxLength: 7 }), (written, made) => {
      const { steps, kinds } = numbered(written);
      fc.pre(kinds.length <= 36);
      const ledger = openLedger({ callSites: 0 });
      const { dome, mount, lamp } =
        ledger.standIns<Record<'dome' | 'mount' | 'lamp', Record<'open' | 'close' | 'track' | 'park' | 'on', () => void>>>();
      const functions = [dome.open, dome.close, mount.track, mount.park, lamp.on];
      for (const member of made) functions[member]?.();
      const places = made.flatMap((member, place) => (kinds.includes(member) ? [place] : []));
      const words = [...wordsOf(steps, places.length)].map((word) => [...word].map((step) => Number.parseInt(step, 36)));
      fc.pre(words.length < 3_000);
      const spans = unbrokenIn(steps).map(leavesIn);
      const isUnbroken = (word: readonly number[]) =>
        spans.every((span) => {
          const doubles = new Set(span.map((step) => doubleOf(kinds[step] as number)));
          const own = places.filter((_, at) => span.includes(word[at] as number));
          const [first, last] = [Math.min(...own), Math.max(...own)];
          return made.every((member, place) => place < first || place > last || own.includes(place) || !doubles.has(doubleOf(member)));
        });
      const allowed = words.some(
        (word) => word.length === places.length && word.every((step, at) => kinds[step] === made[places[at] as number]) && isUnbroken(word),
      );
      expect(
        holds(
          inTurn(
            stepOf(
              written,
              functions.slice(0, 3).map((each) => call(each)),
            ),
          ),
        ),
      ).toBe(allowed);
    }),
    { numRuns: 1_000 },
  );
});

describe('an end belongs to a beginning that an equal step took', () => {
  type Ended = 'fulfil' | 'reject';
  /** Two calls of slewTo(1) that end as told, in the order told. */
  const slewing = async (ends: readonly [0 | 1, Ended][]) => {
    const ledger = openLedger({ name: 'order' });
    const { mount } = ledger.standIns<{ mount: { slewTo(ra: number): Promise<void> } }>();
    const [first, second] = [deferred<void>(), deferred<void>()];
    plan(call(mount.slewTo), first);
    const calls = [mount.slewTo(1)];
    const between = ledger.mark();
    plan(call(mount.slewTo), second);
    calls.push(mount.slewTo(1));
    for (const [which, how] of ends) {
      const reply = which === 0 ? first : second;
      if (how === 'fulfil') reply.fulfil();
      else reply.reject(new Error('wind'));
    }
    await Promise.allSettled(calls);
    return { mount, between };
  };

  test.each<[readonly [0 | 1, Ended][], boolean, boolean]>([
    [
      [
        [1, 'fulfil'],
        [0, 'reject'],
      ],
      true,
      true,
    ],
    [
      [
        [0, 'reject'],
        [1, 'fulfil'],
      ],
      true,
      true,
    ],
    [
      [
        [0, 'fulfil'],
        [1, 'reject'],
      ],
      false,
      false,
    ],
    [
      [
        [1, 'reject'],
        [0, 'fulfil'],
      ],
      false,
      false,
    ],
  ])('where the ends are %j', async (ends, overlapping, sinceMark) => {
    const { mount, between } = await slewing(ends);
    const one = call(mount.slewTo, [1]);
    // The first step takes the first call, so that the last one may only take the end of the second.
    expect(holds(inTurn(call(mount.slewTo), one, fulfilled(one)))).toBe(overlapping);
    // What ends after the mark and began before it has no place after it.
    expect(holds(during({ from: between }, inTurn(one, fulfilled(one))))).toBe(sinceMark);
  });

  test('and where no equal step comes before it, it may be any', async () => {
    const { mount, between } = await slewing([
      [0, 'fulfil'],
      [1, 'reject'],
    ]);
    const claim = () => inTurn(call(mount.slewTo), fulfilled(call(mount.slewTo, [1])));
    check(inTurn(call(mount.slewTo), claim()));
    // In a stretch it is none of a call that began before it.
    expect(holds(during({ from: between }, claim()))).toBe(false);
  });
});
