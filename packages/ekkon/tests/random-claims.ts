import {
  type Claim,
  call,
  computes,
  deferred,
  during,
  type EventPattern,
  exactItems,
  fulfilled,
  inFlight,
  inTurn,
  item,
  leadsTo,
  onlyAfter,
  openLedger,
  plan,
  rejected,
  settled,
  suchThat,
  times,
  unfinished,
} from 'ekkon';
import fc from 'fast-check';
import { makeEvidence } from '../src/judge/evidence.ts';
import type { Journal } from '../src/record/journal.ts';
import { tied } from '../src/record/tie.ts';
import { thrownBy } from './failure.ts';
import { stepOf, type Tree } from './step-trees.ts';

/** Which events a pattern means. Argument 9 is the one of which it is not known whether it fits `odd`. */
export interface Pattern {
  readonly of: 'a' | 'b' | 'rain';
  readonly args: 'any' | 'odd' | number;
  readonly is: 'begin' | 'fulfilled' | 'rejected' | 'settled';
}

export type Told =
  | { readonly claim: 'times'; readonly least: number; readonly most: number; readonly of: Pattern }
  | { readonly claim: 'unfinished'; readonly least: number; readonly most: number; readonly of: Pattern }
  | { readonly claim: 'inFlight'; readonly least: number; readonly most: number; readonly of: Pattern }
  | { readonly claim: 'onlyAfter' | 'leadsTo'; readonly of: Pattern; readonly other: Pattern }
  | { readonly claim: 'inTurn'; readonly step: Tree<Pattern> }
  | { readonly claim: 'items'; readonly items: readonly number[] }
  | { readonly claim: 'during'; readonly from?: Pattern; readonly until?: Pattern; readonly endedOnly: boolean; readonly inner: Told };

export const calls = (pattern: Pattern): Pattern => ({ ...pattern, is: 'begin' });

export type Move = 'a1' | 'a2' | 'a9' | 'b1' | 'b9' | 'fulfil first' | 'fulfil last' | 'reject first' | 'rain 0' | 'rain 1';
export const moves = fc.constantFrom<Move>(
  'a1',
  'a2',
  'a9',
  'a9',
  'b1',
  'b9',
  'b9',
  'fulfil first',
  'fulfil last',
  'reject first',
  'rain 0',
  'rain 1',
);

/** One object for each predicate: two of them would be two patterns. */
export const odd = suchThat((n: number) => {
  if (n === 9) throw new Error('who knows');
  return n % 2 === 1;
}, 'odd');

/** A ledger on which moves are played: `a` is asynchronous, `b` throws if it is given 1, `rain` is a stream. It comes with what a judge needs. */
export function played() {
  const ledger = openLedger({ callSites: 0, rules: 'loose' });
  const a = ledger.callable<(n: number) => Promise<void>>('a');
  const b = ledger.callable<(n: number) => void>('b');
  let emit: (value: number) => void = () => {};
  const rain = ledger.follow<number>((given) => {
    emit = given;
    return () => {};
  }, 'rain');
  plan(
    call(b),
    computes((n: number) => {
      if (n === 1) throw new Error('wind');
    }),
  );
  const open: ReturnType<typeof deferred<void>>[] = [];
  async function play(move: Move): Promise<void> {
    if (move.startsWith('a')) {
      const reply = deferred<void>();
      plan(call(a), reply);
      open.push(reply);
      a(Number(move[1])).catch(() => {});
    } else if (move.startsWith('b')) thrownBy(() => b(Number(move[1])));
    else if (move.startsWith('rain')) emit(Number(move[5]));
    else {
      const [reply] = open.splice(move.endsWith('last') ? -1 : 0, 1);
      if (move.startsWith('fulfil')) reply?.fulfil();
      else reply?.reject(new Error('wind'));
    }
    await Promise.resolve();
  }
  const journal = tied(ledger)?.journal as Journal;
  const evidence = makeEvidence(
    journal,
    () => new Set(),
    () => [],
  );
  return { ledger, a, b, rain, play, journal, evidence, odd: odd as unknown };
}

export type Played = ReturnType<typeof played>;

export function patternFor({ a, b, rain, odd }: Played, { of, args, is }: Pattern): EventPattern {
  const claimed = (args === 'odd' ? odd : args) as number | 'any';
  if (of === 'rain') return claimed === 'any' ? item(rain) : item(rain, claimed);
  const member = of === 'a' ? a : b;
  const calls = claimed === 'any' ? call(member) : call(member, [claimed]);
  return { begin: calls, fulfilled: fulfilled(calls as never), rejected: rejected(calls as never), settled: settled(calls as never) }[is];
}

export function claimFor(parts: Played, told: Told): Claim {
  switch (told.claim) {
    case 'times':
      return times(`${told.least}..${told.most}`, patternFor(parts, told.of));
    case 'unfinished':
      return times(`${told.least}..${told.most}`, unfinished(patternFor(parts, told.of) as never));
    case 'inFlight':
      return inFlight(`${told.least}..${told.most}`, patternFor(parts, told.of) as never);
    case 'onlyAfter':
      return onlyAfter(patternFor(parts, told.of), patternFor(parts, told.other));
    case 'leadsTo':
      return leadsTo(patternFor(parts, told.of), patternFor(parts, told.other));
    case 'inTurn':
      return inTurn(stepOf(told.step, (leaf) => patternFor(parts, leaf)));
    case 'items':
      return exactItems(parts.rain, told.items);
    case 'during': {
      const { from, until, endedOnly } = told;
      const bounds = { ...(from && { from: patternFor(parts, from) }), ...(until && { until: patternFor(parts, until), endedOnly }) };
      return during(bounds as Parameters<typeof during>[0], claimFor(parts, told.inner));
    }
  }
}

const args = fc.constantFrom<Pattern['args']>('any', 'odd', 'odd', 1);
const begins: fc.Arbitrary<Pattern> = fc.record({ of: fc.constantFrom('a' as const, 'b' as const), args, is: fc.constant('begin' as const) });
const ends: fc.Arbitrary<Pattern> = fc.record({
  of: fc.constant('a' as const),
  args,
  is: fc.constantFrom('fulfilled' as const, 'rejected' as const, 'settled' as const),
});
const rains: fc.Arbitrary<Pattern> = fc.record({
  of: fc.constant('rain' as const),
  args: fc.constantFrom<Pattern['args']>('any', 1),
  is: fc.constant('begin' as const),
});
const patterns = fc.oneof(begins, begins, ends, rains);
const range = fc.tuple(fc.nat(2), fc.nat(2)).map(([least, more]) => ({ least, most: least + more }));

/** Sequences over some patterns. */
export const sequencesOf = (leaves: fc.Arbitrary<Pattern>, maxDepth: number) =>
  fc
    .letrec<{ step: Tree<Pattern> }>((tie) => ({
      step: fc.oneof(
        { maxDepth },
        fc.record({ kind: fc.constant('leaf' as const), leaf: leaves }),
        fc.record({
          kind: fc.constantFrom('then' as const, 'then' as const, 'together' as const, 'either' as const, 'unbroken' as const),
          parts: fc.array(tie('step'), { minLength: 1, maxLength: 3 }),
        }),
        fc.tuple(range, tie('step')).map(([bounds, part]) => ({ kind: 'loop' as const, ...bounds, part })),
      ),
    }))
    .step.map((step) => ({ claim: 'inTurn' as const, step }));

export const begunOrEnded = fc.oneof(begins, ends);

export const { told: claims } = fc.letrec<{ told: Told; plain: Told }>((tie) => ({
  plain: fc.oneof(
    fc.tuple(range, patterns).map(([bounds, of]) => ({ claim: 'times' as const, ...bounds, of })),
    fc.tuple(range, begins).map(([bounds, of]) => ({ claim: 'unfinished' as const, ...bounds, of })),
    fc.tuple(range, begins).map(([bounds, of]) => ({ claim: 'inFlight' as const, ...bounds, of })),
    fc.record({ claim: fc.constantFrom('onlyAfter' as const, 'leadsTo' as const), of: patterns, other: patterns }),
    sequencesOf(begunOrEnded, 2),
    fc.array(fc.nat(1), { maxLength: 2 }).map((items) => ({ claim: 'items' as const, items })),
  ),
  told: fc.oneof(
    { maxDepth: 2 },
    tie('plain'),
    fc
      .record({
        from: fc.option(fc.oneof(patterns, begins), { nil: undefined }),
        until: fc.option(patterns, { nil: undefined }),
        own: fc.boolean(),
        endedOnly: fc.boolean(),
        inner: tie('told'),
      })
      .map(({ from, until, own, endedOnly, inner }): Told => {
        const bounds =
          own && from?.of === 'a'
            ? { from: calls(from), until: { ...from, is: 'settled' as const } }
            : { from: from ?? (until === undefined ? { of: 'a' as const, args: 'any' as const, is: 'begin' as const } : undefined), until };
        return {
          claim: 'during',
          ...(bounds.from && { from: bounds.from }),
          ...(bounds.until && { until: bounds.until }),
          endedOnly: endedOnly && bounds.until !== undefined,
          inner,
        };
      }),
  ),
}));
