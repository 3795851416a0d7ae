import { asPattern } from '../pattern/as-pattern.ts';
import {
  anyEndOf,
  callsOf,
  type HeldEnd,
  type HeldEvent,
  isEnd,
  journalOf,
} from '../pattern/event.ts';
import {
  inRange,
  isEverything,
  type Multiplicity,
  printRange,
  type Range,
  readRange,
  sameRange,
  unbounded,
} from '../pattern/multiplicity.ts';
import { samePattern } from '../pattern/same-pattern.ts';
import type { CallPattern, EventPattern } from '../pattern/types.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Below } from '../value/below.ts';
import { printsAs } from '../value/prints-as.ts';
import { takesOnly } from '../value/takes-only.ts';
import { explainCount } from './explain-count.ts';
import { claimMaker } from './make-claim.ts';
import type { ClaimParts, HeldClaimBase, PartsOf } from './parts.ts';

/** A claim on how many calls match one pattern. */
export interface CountClaim<A extends readonly unknown[], R> extends Claim {
  readonly pattern: CallPattern<A, R>;
}

/** A count claim behind its public type. */
export interface HeldCount extends HeldClaimBase<'count'> {
  /** The word it was written with. */
  readonly word: 'once' | 'never' | 'times';
  readonly range: Range;
  readonly held: HeldEvent;
}

/**
 * Claims that exactly one call matches.
 *
 * @throws TypeError if it is given no pattern
 * @example
 * check(once(call(dome.close)));
 * @see times for other counts
 */
export function once<A extends readonly unknown[], R>(p: CallPattern<A, R>): CountClaim<A, R>;
export function once(p: EventPattern): Claim;
export function once(p: EventPattern): Claim {
  takesOnly(1, arguments, once);
  return makeCount('once', { least: 1, most: 1 }, p, once);
}

/**
 * Claims that no call matches.
 *
 * @throws TypeError if it is given no pattern
 * @example
 * check(never(call(alarm.sound)));
 */
export function never(p: EventPattern): Claim {
  takesOnly(1, arguments, never);
  return makeCount('never', { least: 0, most: 0 }, p, never);
}

/**
 * Claims how many calls match.
 *
 * @param range a count, or bounds that are both included: `2`, `'2..4'`, `'1..*'`
 * @throws TypeError if the range is invalid, or if it is given no pattern
 * @example
 * check(times('1..*', call(weather.rain)));
 */
export function times<A extends readonly unknown[], R>(
  range: Multiplicity,
  p: CallPattern<A, R>,
): CountClaim<A, R>;
export function times(range: Multiplicity, p: EventPattern): Claim;
export function times(range: Multiplicity, p: EventPattern): Claim {
  takesOnly(2, arguments, times);
  return makeCount('times', readRange(range, times), p, times);
}

const example = {
  once: 'once(call(dome.open))',
  never: 'never(call(dome.open))',
  times: "times('1..*', call(dome.open))",
};

function makeCount(
  word: HeldCount['word'],
  range: Range,
  pattern: EventPattern,
  below: Below,
): CountClaim<readonly unknown[], unknown> {
  const held = asPattern(pattern, example[word], below);
  const parts = { kind: 'count', journal: journalOf(held), word, range, held, pattern } as const;
  return makeHeld(parts, below) as unknown as CountClaim<readonly unknown[], unknown>;
}

const print = ({ word, range, held }: PartsOf<HeldCount>) =>
  `${word}${word === 'times' ? ` ${printRange(range)}` : ''} ${held[printsAs]}`;

const makeHeld = claimMaker<HeldCount>(print);

/** The state is the count: no further than one past the range, where nothing changes any more. */
export const countParts: ClaimParts<HeldCount, number> = {
  hears: ({ held }) => ({
    events: isUnfinished(held) ? [held.calls, anyEndOf(held.calls)] : [held],
  }),
  start: () => 0,
  take({ held, range }, count, { end, before }) {
    if (isUnfinished(held)) return end ? count - (before ? 0 : 1) : count + 1;
    const last = range.most === unbounded ? range.least : range.most + 1;
    return Math.min(count + 1, last);
  },
  same: (_, one, other) => one === other,
  stands({ held, range }, count) {
    if (inRange(range, count)) return 'holds';
    return count > range.most && !isUnfinished(held) ? 'lost' : 'open';
  },
  rest: ({ held }, count, { begins, ends }) =>
    isUnfinished(held) ? count + begins - ends : count + begins + ends,
  side: ({ range }, count) => (count < range.least ? -1 : count > range.most ? 1 : 0),
  hopes: ({ held, range }, count, isAlive) =>
    isUnfinished(held) || inRange(range, count) || (count < range.least && isAlive(held)),
  absent: () => undefined,
  mindsBeginnings: ({ held }) => isUnfinished(held),
  explain: explainCount,
  counted: ({ held, range }) => ({ held, range }),
  wants: ({ held, range }, found) =>
    found.code === 'missingCall'
      ? [{ event: held, missing: range.least - found.fittingCount }]
      : [],
  uses({ held, range }) {
    if (range.most === 0) return [];
    // A call that was unfinished when it was claimed to be may have ended since.
    return [isUnfinished(held) ? callsOf(held) : held];
  },
  canComeTrue: ({ held, range }) => range.least > 0 || isUnfinished(held),
  canBreak: ({ range }) => range.most !== unbounded,
  holdsOfNothing: ({ range }) => range.least === 0,
  isAlwaysTrue: ({ range }) => isEverything(range),
  equal: (one, other) => sameRange(one.range, other.range) && samePattern(one.held, other.held),
  print,
};

/** Whether a pattern means calls that have not ended. */
export function isUnfinished(event: HeldEvent): event is HeldEnd {
  return isEnd(event) && event.of === 'unfinished';
}

/** The count claim behind its public type, if a claim is one. */
export function asCount(claim: HeldClaimBase | undefined): HeldCount | undefined {
  return claim?.kind === 'count' ? (claim as HeldCount) : undefined;
}
