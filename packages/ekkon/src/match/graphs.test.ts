import fc from 'fast-check';
import { expect, test } from 'vitest';
import { failure, failureOf } from '../../tests/failure.ts';
import { forAll } from '../../tests/for-all.ts';
import { call, check, once, openLedger, times } from '../index.ts';
import { weigh } from '../weigh.ts';

/** An object of a graph: what it is, the objects that it holds, and a leaf. */
interface Node {
  readonly kind: 'plain' | 'instance' | 'array' | 'map' | 'keyed' | 'set' | 'hidden';
  readonly refs: readonly number[];
  readonly leaf: number;
}

class Frame {
  [key: string]: unknown;
}

class Sealed {
  readonly #seal: number;
  constructor(seal: number) {
    this.#seal = seal;
  }
  opened() {
    return this.#seal;
  }
}

const graphs = fc.array(
  fc.record({
    kind: fc.constantFrom<Node['kind']>('plain', 'instance', 'array', 'map', 'keyed', 'set', 'set', 'hidden'),
    refs: fc.array(fc.nat(9), { maxLength: 4 }),
    leaf: fc.nat(2),
  }),
  { minLength: 1, maxLength: 8 },
);

/** The objects that one of a graph holds, by place; each place leads into the graph. */
const heldBy = (graph: readonly Node[], at: number) => {
  const { kind, refs } = graph[at] as Node;
  return kind === 'hidden' ? [] : refs.map((ref) => ref % graph.length);
};

function newObject({ kind, leaf }: Node): object {
  switch (kind) {
    case 'plain':
      return {};
    case 'instance':
      return new Frame();
    case 'array':
      return [];
    case 'map':
    case 'keyed':
      return new Map();
    case 'set':
      return new Set();
    case 'hidden':
      return new Sealed(leaf);
  }
}

/** The first object of a graph, with all that it leads to. */
function made(graph: readonly Node[]): unknown {
  const objects = graph.map(newObject);
  graph.forEach(({ kind, leaf }, at) => {
    const object = objects[at];
    const held = heldBy(graph, at).map((ref) => objects[ref]);
    if (object instanceof Set) for (const each of [leaf, ...held]) object.add(each);
    else if (Array.isArray(object)) (object as unknown[]).push(leaf, ...held);
    else if (object instanceof Map) {
      object.set('leaf', leaf);
      held.forEach((each, place) => {
        if (kind === 'keyed') object.set(each, place);
        else object.set(`${place}`, each);
      });
    } else if (kind !== 'hidden') Object.assign(object as object, { leaf }, held);
  });
  return objects[0];
}

/** Whether each of some can have a partner of its own among others. */
function canPair(ones: readonly number[], others: readonly number[], fit: (one: number, other: number) => boolean): boolean {
  const [first, ...rest] = ones;
  if (first === undefined) return others.length === 0;
  return others.some(
    (other) =>
      fit(first, other) &&
      canPair(
        rest,
        others.filter((each) => each !== other),
        fit,
      ),
  );
}

/**
 * Whether two graphs are equal from their first objects on: the greatest relation in which what related objects hold
 * is related, by taking pairs out of all until none has to be.
 */
function areEqual(one: readonly Node[], other: readonly Node[], ifHidden: boolean): boolean {
  const related = one.map(({ kind, leaf }) => other.map((node) => kind === node.kind && (kind === 'hidden' ? ifHidden : leaf === node.leaf)));
  const fit = (at: number, there: number) => related[at]?.[there] === true;
  const holdAlike = (at: number, there: number) => {
    const [held, heldThere] = [heldBy(one, at), heldBy(other, there)];
    const { kind } = one[at] as Node;
    if (kind === 'set') return canPair([...new Set(held)], [...new Set(heldThere)], fit);
    if (kind === 'keyed')
      return canPair([...new Set(held)], [...new Set(heldThere)], (key, keyThere) => {
        return held.lastIndexOf(key) === heldThere.lastIndexOf(keyThere) && fit(key, keyThere);
      });
    return held.length === heldThere.length && held.every((each, place) => fit(each, heldThere[place] as number));
  };
  for (let isSettled = false; !isSettled; ) {
    isSettled = true;
    related.forEach((row, at) => {
      row.forEach((is, there) => {
        if (!is || holdAlike(at, there)) return;
        row[there] = false;
        isSettled = false;
      });
    });
  }
  return fit(0, 0);
}

const expected = (one: readonly Node[], other: readonly Node[]) => {
  if (!areEqual(one, other, true)) return 'differs';
  return areEqual(one, other, false) ? 'fits' : 'undecided';
};

function fitOf(recorded: unknown, claimed: unknown): string {
  const show = openLedger({ callSites: 0 }).callable<(value: unknown) => void>('show');
  show(recorded);
  const error = failureOf(times(1, call(show, [claimed])));
  if (error === undefined) return 'fits';
  return error.verdict.findings[0]?.code === 'undecidedCall' ? 'undecided' : 'differs';
}

test('graphs with cycles through maps, sets and keys fit if they are equal, in three answers, and each fits itself', () => {
  const change = fc.tuple(fc.nat(9), fc.nat(2));
  const answers = new Map<string, number>();
  forAll(400, graphs, change, (graph, [at, leaf]) => {
    const other = graph.map((node, place) => (place === at % graph.length ? { ...node, leaf } : node));
    const value = made(graph);
    const answer = expected(other, graph);
    expect([fitOf(value, value), fitOf(value, made(graph)), fitOf(value, made(other))]).toEqual(['fits', expected(graph, graph), answer]);
    answers.set(answer, (answers.get(answer) ?? 0) + 1);
  });
  for (const answer of ['fits', 'differs', 'undecided']) expect([answer, (answers.get(answer) ?? 0) > 20]).toEqual([answer, true]);
});

test.each([
  ['maps', (inner: unknown) => new Map([[{}, inner]])],
  ['sets', (inner: unknown) => new Set([{ inner }])],
  ['keys', (inner: unknown) => new Map([[{ inner }, 1]])],
])('%s inside of one another are compared as deep as they are recorded, and are undecided below', (_, around) => {
  const nested = (depth: number, leaf: number) => Array.from({ length: depth }).reduce((inner) => around(inner), leaf as unknown);
  expect([fitOf(nested(60, 1), nested(60, 1)), fitOf(nested(60, 1), nested(60, 2))]).toEqual(['fits', 'differs']);
  expect([fitOf(nested(500, 1), nested(500, 1)), fitOf(nested(500, 1), nested(500, 2))]).toEqual(['undecided', 'undecided']);
});

test('what is shared prints as often as it stands there, up to a bound', () => {
  const shared = (leaf: number) => Array.from({ length: 60 }).reduce((inner) => ({ one: inner, other: inner }), { leaf } as object);
  expect([fitOf(shared(1), shared(1)), fitOf(shared(1), shared(2))]).toEqual(['fits', 'differs']);
});

test('of parts that lead back to the whole, the one difference is told once', () => {
  type Tree = { readonly parts: object[]; readonly seen: number };
  const tree = (seen: number) => {
    const whole: Tree = { parts: [], seen };
    for (let at = 0; at < 40; at++) whole.parts.push({ at, whole, beside: whole.parts });
    return whole;
  };
  const show = openLedger({ callSites: 0 }).callable<(value: unknown) => void>('show');
  show(tree(1));
  const [finding] = failure(once(call(show, [tree(2)]))).verdict.findings;
  expect(finding?.differences).toMatchObject([{ path: [0, 'seen'], kind: 'changed', expected: 2, received: 1 }]);
});

test('what became of the very object that was passed is not a difference in it, and one where it stands elsewhere', () => {
  const show = openLedger({ callSites: 0 }).callable<(value: unknown) => void>('show');
  const frame = { id: 1, at: { ra: 1 } };
  show({ frame, beside: { at: frame.at } });
  frame.at = { ra: 2 };
  expect(() => check(once(call(show, [{ frame, beside: { at: frame.at } }])))).toThrow(/\[0\]\.beside\.at\.ra expected 2, received 1/);
});

test('what is shared or leads back to itself is weighed in a bounded time, with claims short enough to add', () => {
  const ledger = openLedger({ callSites: 0 });
  const show = ledger.callable<(value: unknown) => void>('show');
  const around: { self?: unknown; leaf: number } = { leaf: 1 };
  around.self = [around, around];
  const shared = Array.from({ length: 40 }).reduce((inner) => ({ one: inner, other: inner }), { leaf: 1 } as object);
  const empty = Array.from({ length: 40 }).reduce((inner) => ({ one: inner, other: inner }), {} as object);
  for (const value of [around, shared, [shared, empty]]) show(value);
  const { unnoticed } = weigh(ledger, times(3, call(show)));
  expect(unnoticed.length).toBeGreaterThan(100);
  for (const { claim } of unnoticed) expect(claim.length).toBeLessThan(10_000);
});

/** Collections all of which hold all of them; the last holds something of its own as well. */
const webs = {
  sets(count: number, last: unknown) {
    const all = Array.from({ length: count }, () => new Set<unknown>());
    for (const each of all) for (const other of all) each.add(other);
    return all.at(-1)?.add(last) && all[0];
  },
  maps(count: number, last: unknown) {
    const all = Array.from({ length: count }, () => new Map<unknown, unknown>());
    for (const each of all) for (const [at, other] of all.entries()) each.set(other, [at, other]);
    return all.at(-1)?.set(last, last) && all[0];
  },
};

test.each(Object.entries(webs))('thirty %s that hold each other are told from others before anybody waits', (_, web) => {
  expect([fitOf(web(30, 1), web(30, 1)), fitOf(web(30, 1), web(30, 2))]).toEqual(['fits', 'differs']);
});
