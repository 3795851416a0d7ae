import { asCalls } from '../pattern/as-pattern.ts';
import { anyEndOf, type HeldPattern } from '../pattern/event.ts';
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
import type { AnyCalls } from '../pattern/types.ts';
import type { Claim } from '../record/claim-type.ts';
import { printsAs } from '../value/prints-as.ts';
import { takesOnly } from '../value/takes-only.ts';
import { explainInFlight } from './explain-in-flight.ts';
import { claimMaker } from './make-claim.ts';
import type { ClaimParts, HeldClaimBase, PartsOf } from './parts.ts';

/** A claim on how many calls are under way at one time, behind its public type. */
export interface HeldInFlight extends HeldClaimBase<'inFlight'> {
  readonly range: Range;
  readonly calls: HeldPattern;
}

/**
 * Claims how many matching calls are under way at one time: the greatest number is in the range.
 *
 * @throws TypeError if the range is invalid, or if it is given no pattern of calls
 * @example
 * check(inFlight('0..2', call(archive.store)));
 */
export function inFlight(range: Multiplicity, p: AnyCalls): Claim {
  takesOnly(2, arguments, inFlight);
  const bounds = readRange(range, inFlight);
  const calls = asCalls(p, "inFlight('0..2', call(archive.store))", inFlight);
  const { journal } = calls.member;
  return makeHeld({ kind: 'inFlight', journal, range: bounds, calls }, inFlight);
}

const print = ({ range, calls }: PartsOf<HeldInFlight>) =>
  `in flight ${printRange(range)} ${calls[printsAs]}`;

const makeHeld = claimMaker<HeldInFlight>(print);

/** How many calls are under way now, and how many there were at most. */
interface UnderWay {
  readonly now: number;
  readonly peak: number;
}

export function inFlightParts(): ClaimParts<HeldInFlight, UnderWay> {
  return parts;
}

const parts: ClaimParts<HeldInFlight, UnderWay> = {
  hears: ({ calls }) => ({ events: [calls, anyEndOf(calls)] }),
  // Calls that are running when a stretch begins count from its start.
  start: (_, __, outside) =>
    outside === undefined ? { now: 0, peak: 0 } : { now: outside.now, peak: outside.now },
  take: (_, { now, peak }, { end }) =>
    end ? { now: now - 1, peak } : { now: now + 1, peak: Math.max(peak, now + 1) },
  same: (_, one, other) => one.now === other.now && one.peak === other.peak,
  stands: ({ range }, { peak }) =>
    peak > range.most ? 'lost' : inRange(range, peak) ? 'holds' : 'open',
  rest: (_, { now, peak }, rest) => ({ now, peak: Math.max(peak, now + rest.peak) }),
  side: ({ range }, { peak }) => (peak < range.least ? -1 : peak > range.most ? 1 : 0),
  hopes: ({ range, calls }, { peak }, isAlive) =>
    inRange(range, peak) || (peak < range.least && isAlive(calls)),
  absent: () => undefined,
  explain: explainInFlight,
  uses: ({ range, calls }) => (range.most === 0 ? [] : [calls]),
  canComeTrue: ({ range }) => range.least > 0,
  canBreak: ({ range }) => range.most !== unbounded,
  holdsOfNothing: ({ range }) => range.least === 0,
  isAlwaysTrue: ({ range }) => isEverything(range),
  equal: (one, other) => sameRange(one.range, other.range) && samePattern(one.calls, other.calls),
  print,
};
