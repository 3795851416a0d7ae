import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { cheapestEdit } from '../../explain/cheapest-edit.ts';
import { everything } from '../../explain/window.ts';
import {
  type Claim,
  ClaimError,
  call,
  check,
  deferred,
  during,
  either,
  fulfilled,
  inAnyOrder,
  inFlight,
  inTurn,
  leadsTo,
  loop,
  never,
  nothingElse,
  once,
  onlyAfter,
  openLedger,
  optional,
  plan,
  returned,
  type StepLike,
  settled,
  threw,
  throws,
  unbroken,
  unfinished,
} from '../../index.ts';
import { tied } from '../../record/tie.ts';
import { acceptorOf, eventsFor } from './explain-order.ts';
import { startOf } from './sequence-state.ts';
import type { HeldOrder } from './steps.ts';

/** A step expression over the leaves 0 to 2, as the oracle reads it. */
type Tree =
  | { readonly kind: 'leaf'; readonly leaf: number }
  | { readonly kind: 'then' | 'together' | 'either'; readonly parts: readonly Tree[] }
  | { readonly kind: 'loop'; readonly part: Tree; readonly least: number; readonly most: number };

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

/** Every sequence of leaves that a tree allows, up to a length, one by one. */
function wordsOf(tree: Tree, longest: number): ReadonlySet<string> {
  switch (tree.kind) {
    case 'leaf':
      return new Set(longest > 0 ? [tree.leaf.toString(36)] : []);
    case 'either':
      return new Set(tree.parts.flatMap((part) => [...wordsOf(part, longest)]));
    case 'then':
      return tree.parts.reduce((words, part) => combine(words, wordsOf(part, longest), longest, (one, other) => [one + other]), new Set(['']));
    case 'together':
      return tree.parts.reduce((words, part) => combine(words, wordsOf(part, longest), longest, interleavings), new Set(['']));
    case 'loop': {
      const found = new Set<string>();
      let words: ReadonlySet<string> = new Set(['']);
      for (let count = 0; count <= tree.most; count++) {
        if (count >= tree.least) for (const word of words) found.add(word);
        words = combine(words, wordsOf(tree.part, longest), longest, (one, other) => [one + other]);
      }
      return found;
    }
  }
}

function combine(
  ones: ReadonlySet<string>,
  others: ReadonlySet<string>,
  longest: number,
  join: (one: string, other: string) => string[],
): Set<string> {
  return new Set([...ones].flatMap((one) => [...others].flatMap((other) => (one.length + other.length <= longest ? join(one, other) : []))));
}

function interleavings(one: string, other: string): string[] {
  if (one === '' || other === '') return [one + other];
  return [...interleavings(one.slice(1), other).map((rest) => one[0] + rest), ...interleavings(one, other.slice(1)).map((rest) => other[0] + rest)];
}

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

const stepOf = (tree: Tree, patterns: readonly StepLike[]): StepLike => {
  switch (tree.kind) {
    case 'leaf':
      return patterns[tree.leaf] as StepLike;
    case 'loop':
      return loop(`${tree.least}..${tree.most}`, stepOf(tree.part, patterns));
    default: {
      const parts = tree.parts.map((part) => stepOf(part, patterns));
      return tree.kind === 'then' ? inTurn(...parts) : tree.kind === 'either' ? either(...parts) : inAnyOrder(...parts);
    }
  }
};

const leavesIn = (tree: Tree): readonly number[] =>
  tree.kind === 'leaf' ? [tree.leaf] : tree.kind === 'loop' ? leavesIn(tree.part) : tree.parts.flatMap(leavesIn);

const holds = (claim: Claim | readonly Claim[]) => {
  try {
    check(claim as never);
    return true;
  } catch (error) {
    if (error instanceof ClaimError) return false;
    throw error;
  }
};

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

interface Devices {
  dome: { open(): void; close(): void };
  mount: { slewTo(ra: number): Promise<void>; track(): void };
  camera: { expose(seconds: number): Promise<void> };
}

function night() {
  const ledger = openLedger({ name: 'order' });
  const { dome, mount, camera } = ledger.standIns<Devices>();
  return { ledger, dome, mount, camera };
}

/** What settles does not do so in the turn of its call. */
const nextTurn = () => Promise.resolve();

test('ends belong to their own beginnings exactly as brute force over all assignments has it', async () => {
  /** Leaves: 0 call(a), 1 call(a, [1]), 2 fulfilled of the first, 3 fulfilled of the second. */
  const leaf = fc.record({ kind: fc.constant('leaf' as const), leaf: fc.nat(3) });
  const parts = fc.array(leaf, { minLength: 1, maxLength: 3 });
  const inner = fc.record({ kind: fc.constantFrom('then' as const, 'together' as const, 'either' as const), parts });
  const looped = fc.record({ kind: fc.constant('loop' as const), part: inner, least: fc.nat(1), most: fc.constant(2) });
  const tree: fc.Arbitrary<Tree> = fc.record({
    kind: fc.constantFrom('then' as const, 'together' as const),
    parts: fc.array(fc.oneof(leaf, inner, { weight: 1, arbitrary: looped }), { minLength: 1, maxLength: 3 }),
  });
  const moves = fc.array(fc.nat(3), { maxLength: 6 });
  /** The tree with a number of its own for each step, those of each turn of a loop too; and what each is a step of. */
  const numbered = (of: Tree) => {
    const kinds: number[] = [];
    const number = (each: Tree): Tree => {
      switch (each.kind) {
        case 'leaf':
          return { kind: 'leaf', leaf: kinds.push(each.leaf) - 1 };
        case 'loop': {
          const turns = Array.from({ length: each.most }, (_, turn) => ({ turn, part: number(each.part) }));
          return turns.reduceRight<Tree>(
            (rest, { turn, part }) => ({
              kind: 'loop',
              part: { kind: 'then', parts: [part, rest] },
              least: turn < each.least ? 1 : 0,
              most: 1,
            }),
            { kind: 'then', parts: [] },
          );
        }
        default:
          return { ...each, parts: each.parts.map(number) };
      }
    };
    return { steps: number(of), kinds };
  };
  /** Whether one step may come before another: in the innermost step that holds both, its part comes first, or in any order. */
  const mayPrecede = (within: Tree, one: number, other: number): boolean => {
    if (within.kind === 'leaf') return false;
    if (within.kind === 'loop') return mayPrecede(within.part, one, other);
    const [first, second] = [one, other].map((step) => within.parts.findIndex((part) => leavesIn(part).includes(step))) as [number, number];
    if (first === second) return first >= 0 && mayPrecede(within.parts[first] as Tree, one, other);
    return within.kind === 'together' || (within.kind === 'then' && first < second);
  };
  await fc.assert(
    fc.asyncProperty(tree, moves, async (written, made) => {
      const { steps, kinds } = numbered(written);
      const ledger = openLedger({ callSites: 0 });
      const a = ledger.callable<(n: number) => Promise<void>>('a');
      const events: { id: number; arg: number; end: boolean }[] = [];
      const open: { id: number; arg: number; reply: ReturnType<typeof deferred<void>> }[] = [];
      for (const move of made) {
        if (move < 2) {
          const reply = deferred<void>();
          plan(call(a), reply);
          void a(move);
          await nextTurn();
          const id = ledger.entries().length;
          events.push({ id, arg: move, end: false });
          open.push({ id, arg: move, reply });
        } else {
          const [ended] = open.splice(move === 2 ? 0 : -1, 1);
          ended?.reply.fulfil();
          if (ended !== undefined) events.push({ id: ended.id, arg: ended.arg, end: true });
        }
      }
      const meets = ({ arg, end }: (typeof events)[number], kind: number) => end === kind > 1 && (kind % 2 === 0 || arg === 1);
      const considered = events.filter((event) => kinds.some((kind) => meets(event, kind)));
      const words = [...wordsOf(steps, considered.length)].map((word) => [...word].map((step) => Number.parseInt(step, 36)));
      const begins = (begin: number, end: number) => kinds[begin] === (kinds[end] as number) - 2;
      const belongs = kinds.map((_, end) => kinds.some((_, begin) => begins(begin, end) && mayPrecede(steps, begin, end)));
      const allowed = words.some(
        (word) =>
          word.length === considered.length &&
          word.every((step, place) => {
            const event = considered[place] as (typeof events)[number];
            if (!meets(event, kinds[step] as number)) return false;
            return !belongs[step] || word.slice(0, place).some((begin, other) => begins(begin, step) && considered[other]?.id === event.id);
          }),
      );
      const patterns = [call(a), call(a, [1]), fulfilled(call(a)), fulfilled(call(a, [1]))];
      expect(holds(inTurn(stepOf(written, patterns)))).toBe(allowed);
    }),
    {
      numRuns: 1_500,
      // The first end has no beginning before it that means the same, though another step of its pattern has.
      examples: [
        [
          {
            kind: 'together',
            parts: [
              {
                kind: 'then',
                parts: [
                  { kind: 'leaf', leaf: 3 },
                  { kind: 'leaf', leaf: 0 },
                  { kind: 'leaf', leaf: 1 },
                ],
              },
              {
                kind: 'either',
                parts: [
                  { kind: 'leaf', leaf: 0 },
                  { kind: 'leaf', leaf: 3 },
                ],
              },
            ],
          },
          [1, 2, 0, 1],
        ],
      ],
    },
  );
});

describe('an end belongs to a beginning that an equal step took', () => {
  type Ended = 'fulfil' | 'reject';
  /** Two calls of slewTo(1) that end as told, in the order told. */
  const slewing = async (ends: readonly [0 | 1, Ended][]) => {
    const parts = night();
    const [first, second] = [deferred<void>(), deferred<void>()];
    plan(call(parts.mount.slewTo), first);
    const calls = [parts.mount.slewTo(1)];
    const between = parts.ledger.mark();
    plan(call(parts.mount.slewTo), second);
    calls.push(parts.mount.slewTo(1));
    for (const [which, how] of ends) {
      const reply = which === 0 ? first : second;
      if (how === 'fulfil') reply.fulfil();
      else reply.reject(new Error('wind'));
    }
    await Promise.allSettled(calls);
    return { ...parts, between };
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

describe('moments and stretches', () => {
  test('ends are events of their own, in any order of their beginnings', async () => {
    const { dome, mount, camera } = night();
    const [slewed, exposed] = [deferred<void>(), deferred<void>()];
    plan(call(mount.slewTo), slewed);
    plan(call(camera.expose), exposed);
    plan(call(dome.close), throws(new Error('iced')));
    const both = [mount.slewTo(1), camera.expose(2)];
    exposed.fulfil();
    slewed.reject(new Error('wind'));
    await Promise.allSettled(both);
    expect(() => dome.close()).toThrow();
    check(
      inTurn(call(mount.slewTo), call(camera.expose), fulfilled(call(camera.expose)), settled(call(mount.slewTo)), threw(call(dome.close))),
      once(threw(call(dome.close), new Error('iced'))),
      never(fulfilled(call(mount.slewTo))),
      never(unfinished(call(camera.expose))),
      never(returned(call(dome.close))),
    );
    expect(holds(inTurn(fulfilled(call(camera.expose)), call(camera.expose)))).toBe(false);
  });

  test('a stretch that ends with its own beginning’s end is one for each call; others go to the next end', async () => {
    const { ledger, dome, mount, camera } = night();
    const [first, second] = [deferred<void>(), deferred<void>()];
    plan(once(call(mount.slewTo, [1])), first);
    plan(once(call(mount.slewTo, [2])), second);
    const slewing = [mount.slewTo(1), mount.slewTo(2)];
    await nextTurn();
    first.fulfil();
    void camera.expose(1);
    second.fulfil();
    await Promise.all(slewing);
    void camera.expose(2);
    dome.open();
    const armed = ledger.mark('armed');
    dome.close();
    const moving = { from: call(mount.slewTo), until: fulfilled(call(mount.slewTo)) };
    expect(holds(during(moving, never(call(camera.expose))))).toBe(false);
    check(
      during({ from: call(mount.slewTo, [1]), until: fulfilled(call(mount.slewTo, [1])) }, never(call(camera.expose))),
      during({ from: armed }, once(call(dome.close))),
      during({ until: armed }, never(call(dome.close))),
      during({ from: call(dome.open), until: call(dome.close) }, never(call(camera.expose))),
      during({ from: call(camera.expose, [2]) }, inTurn(call(dome.open), call(dome.close))),
      inFlight(2, call(mount.slewTo)),
      during({ from: call(mount.slewTo, [2]) }, inFlight(2, call(mount.slewTo))),
    );
  });

  test('nothing else may begin on the doubles of unbroken steps, elsewhere it may', () => {
    const { dome, mount } = night();
    void mount.slewTo(1);
    dome.open();
    mount.track();
    const claim = () => inTurn(unbroken(call(mount.slewTo), call(mount.track)));
    check(claim());
    const other = night();
    void other.mount.slewTo(1);
    other.mount.track();
    void other.mount.slewTo(2);
    other.mount.track();
    check(inTurn(loop(2, unbroken(call(other.mount.slewTo), call(other.mount.track)))));
    check(inTurn(optional(call(other.dome.open)), loop('1..*', either(call(other.mount.slewTo), call(other.mount.track)))));
    const broken = night();
    void broken.mount.slewTo(1);
    void broken.mount.slewTo(2);
    broken.mount.track();
    expect(holds(inTurn(unbroken(call(broken.mount.slewTo, [1]), call(broken.mount.track))))).toBe(false);
  });
});

test('the greatest number in flight is what a naive count over all moments finds', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.nat(3), { maxLength: 12 }), async (moves) => {
      const ledger = openLedger({ callSites: 0 });
      const store = ledger.callable<(id: number) => Promise<void>>('store');
      const open: ReturnType<typeof deferred<void>>[] = [];
      for (const [id, move] of moves.entries()) {
        const reply = deferred<void>();
        if (move > 0) {
          plan(call(store, [id]), reply);
          void store(id);
          open.push(reply);
        } else open.shift()?.fulfil();
      }
      await Promise.resolve();
      const entries = ledger.entries();
      const ticks = entries.flatMap(({ began, ended }) => [began, ended ?? began]);
      const underWay = (tick: number) => entries.filter(({ began, ended }) => began <= tick && (ended ?? Number.POSITIVE_INFINITY) > tick).length;
      const peak = Math.max(0, ...ticks.map(underWay));
      for (const claimed of [peak - 1, peak, peak + 1].filter((each) => each >= 0)) {
        expect(holds(inFlight(claimed, call(store)))).toBe(claimed === peak);
      }
    }),
  );
});

describe('bad input gets one clear error', () => {
  const { dome, mount } = night();
  const { dome: other } = night();
  const open = call(dome.open);
  const cases: readonly [string, () => unknown, RegExp][] = [
    ['no step', () => inTurn(), /inTurn\(\) has no step/],
    ['a count as a step', () => inTurn(once(open) as never), /takes patterns and steps, and was given/],
    ['no moment', () => inTurn(unfinished(open)), /unfinished dome\.open is not a moment and has no place in an order/],
    ['steps on two ledgers', () => inTurn(open, call(other.open)), /steps of two ledgers, both named "order"/],
    ['half a range', () => loop('2..' as never, open), /this is not a valid range/],
    ['an end of a member', () => fulfilled(mount.slewTo as never), /takes a pattern of calls, and was given \[member mount\.slewTo\]/],
    ['no pattern', () => leadsTo(open, 5 as never), /leadsTo\(\) takes a pattern, and was given 5/],
    ['patterns of two ledgers', () => onlyAfter(open, call(other.open)), /patterns of two ledgers/],
    ['a stretch without ends', () => during({} as never, never(open)), /was given neither end of a stretch/],
    ['a stretch without a claim', () => during({ from: open }, open as never), /takes a claim that can hold in a stretch/],
    ['nothing else in a stretch', () => during({ from: open }, nothingElse(dome)), /takes a claim that can hold in a stretch/],
    [
      'a stretch of another ledger',
      () => during({ from: call(other.open) }, never(open)),
      /a claim and a stretch of two ledgers, both named "order"/,
    ],
    ['nothing else of what', () => nothingElse({}), /takes doubles or a ledger, and was given \{\}/],
    ['in flight of nothing', () => inFlight(1, 5 as never), /inFlight\(\) takes a pattern of calls, and was given 5/],
    ['a bare step', () => check(either(open) as never), /which is not a claim/],
  ];
  test.each(cases)('for %s', (_, run, expected) => {
    expect(run).toThrow(TypeError);
    expect(run).toThrow(expected);
  });
});

describe('the report', () => {
  const message = (run: () => void) => {
    try {
      run();
    } catch (error) {
      return (error as Error).message.replace(/,? *\(?[\w./-]+\.test\.ts:\d+\)?/g, ' @');
    }
    return 'it held';
  };

  test('names what came too early, shows the lanes, and what had to come first', async () => {
    const { dome, mount, camera } = night();
    const slewed = deferred<void>();
    plan(call(mount.slewTo), slewed);
    dome.open();
    const slewing = mount.slewTo(83.6);
    void camera.expose(30);
    slewed.fulfil();
    await slewing;
    expect(message(() => check(inTurn(call(dome.open), fulfilled(call(mount.slewTo)), call(camera.expose))))).toBe(`\
in turn dome.open › fulfilled mount.slewTo › camera.expose: #3 camera.expose @ came too early: it had to come after #2 mount.slewTo was fulfilled

the claim does not hold · ledger "order"

 1  in turn dome.open › fulfilled mount.slewTo › camera.expose
    #3 camera.expose @ came too early: it had to come after #2 mount.slewTo was fulfilled
           tick  dome      mount           camera
    #1        1  ■ open()
    #2        3            ┬ slewTo(83.6)
    #3        4            │               ■ expose(30)   ◂ too early @
    #2        6            ┴ fulfilled                    ◂ had to come first

code: outOfOrder
`);
  });

  const cases: readonly [string, (parts: ReturnType<typeof night>) => void, RegExp][] = [
    ['a step that never came', ({ dome }) => check(inTurn(call(dome.open), call(dome.close))), /dome\.close is missing after #1 dome\.open @/],
    [
      'a call too many',
      ({ dome, camera }) => {
        void camera.expose(1);
        void camera.expose(2);
        check(inTurn(call(dome.open), call(camera.expose)));
      },
      /#\d camera\.expose @ is one too many/,
    ],
    [
      'a call too late',
      ({ dome, mount }) => {
        mount.track();
        check(inTurn(call(mount.track), call(dome.open)));
      },
      /came too (early|late)/,
    ],
    [
      'no beginning before it',
      ({ camera, dome }) => {
        void camera.expose(1);
        check(onlyAfter(call(camera.expose), call(dome.close)));
      },
      /#2 camera\.expose @ came, and dome\.close never did/,
    ],
    ['nothing after it', ({ dome }) => check(leadsTo(call(dome.open), call(dome.close))), /#1 dome\.open @ was never followed by dome\.close/],
    [
      'too many at one time',
      ({ mount }) => {
        plan(call(mount.slewTo), deferred<void>());
        void mount.slewTo(1);
        void mount.slewTo(2);
        check(inFlight('0..1', call(mount.slewTo)));
      },
      /2 under way at tick 4, 0\.\.1 claimed; the last to begin was #3 mount\.slewTo @/,
    ],
    [
      'an entry no claim speaks of',
      ({ ledger, dome, mount }) => {
        mount.track();
        check(nothingElse(ledger), once(call(dome.open)));
      },
      /no claim speaks of #2 mount\.track @/,
    ],
    [
      'the stretch it failed in',
      ({ dome, mount }) => {
        mount.track();
        check(during({ from: call(dome.open) }, never(call(mount.track))));
      },
      /in the stretch from #1 dome\.open @, tick 1, to the end/,
    ],
  ];
  test.each(cases)('names %s', (_, run, expected) => {
    const parts = night();
    parts.dome.open();
    expect(message(() => run(parts))).toMatch(expected);
  });

  test('a claim that holds for no reason is noted, or fails where the rule says so', () => {
    const ledger = openLedger({ rules: { vacuousClaim: 'fail' } });
    const { dome } = ledger.standIns<Devices>();
    expect(message(() => check(leadsTo(call(dome.open), call(dome.close))))).toMatch(/it holds only because dome\.open never occurred/);
    expect(message(() => check(during({ from: call(dome.open) }, once(call(dome.close)))))).toMatch(
      /it holds only because dome\.open never occurred/,
    );
  });

  test('accounts for what claims want, what counted plans answered, and what the test looked at', () => {
    const { ledger, dome, mount, camera } = night();
    plan(once(call(dome.open)), throws(new Error('iced')));
    expect(() => dome.open()).toThrow();
    mount.track();
    void camera.expose(1);
    ledger.entries(call(mount.track));
    expect(holds(nothingElse(ledger))).toBe(false);
    expect(holds(nothingElse(dome, mount))).toBe(true);
    expect(holds([never(call(camera.expose, [2])), nothingElse(camera)])).toBe(false);
    check(inTurn(call(camera.expose)), nothingElse(ledger));
  });

  test('tells symbols, texts and numbers of the same look apart, in many steps too', () => {
    const ledger = openLedger({ callSites: 0 });
    const store = ledger.callable<(value: unknown) => void>('store');
    const [one, other] = [Symbol('star'), Symbol('star')];
    const values = [1, '1', 1n, one, other, null, 'null', undefined, Number.NaN];
    for (const value of values) store(value);
    check(inTurn(...values.map((value) => call(store, [value]))));
    expect(holds(inTurn(...values.toReversed().map((value) => call(store, [value]))))).toBe(false);
    const many = Array.from({ length: 800 }, (_, at) => call(store, [`frame-${at}`]));
    for (let at = 0; at < 800; at++) store(`frame-${at}`);
    check(inTurn(...many));
    expect(holds(inTurn(...many.toReversed()))).toBe(false);
    check(inTurn(inAnyOrder(...many.toReversed().slice(0, 12))));
  });

  test('stays bounded in time and in length on long records', () => {
    const ledger = openLedger({ callSites: 0 });
    const { dome, mount } = ledger.standIns<Devices>();
    for (let at = 0; at < 20_000; at++) {
      mount.track();
      if (at === 12_345) dome.open();
    }
    const said = message(() => check(inTurn(loop('1..*', call(mount.track)), call(dome.open))));
    expect(said.split('\n').length).toBeLessThan(60);
  });
});
