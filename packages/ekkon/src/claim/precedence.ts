import type { Diagnosis } from '../explain/finding.ts';
import { asMoment, oneLedger } from '../pattern/as-pattern.ts';
import { type HeldEvent, isAtEnd, journalOf } from '../pattern/event.ts';
import { sameCalls, samePattern } from '../pattern/same-pattern.ts';
import type { EventPattern } from '../pattern/types.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Below } from '../value/below.ts';
import { printsAs } from '../value/prints-as.ts';
import { takesOnly } from '../value/takes-only.ts';
import { explainPrecedence } from './explain-precedence.ts';
import { claimMaker } from './make-claim.ts';
import type { ClaimParts, HeldClaimBase, PartsOf } from './parts.ts';

/** Common to `onlyAfter` and `leadsTo`. */
export interface HeldPrecedence<K extends 'onlyAfter' | 'leadsTo' = 'onlyAfter' | 'leadsTo'>
  extends HeldClaimBase<K> {
  /** The event that needs the other one. */
  readonly needing: HeldEvent;
  readonly needed: HeldEvent;
}

export type HeldOnlyAfter = HeldPrecedence<'onlyAfter'>;
export type HeldLeadsTo = HeldPrecedence<'leadsTo'>;

/**
 * Claims that each call of the first pattern comes after one of the second.
 *
 * @throws TypeError if one of them is not a pattern with a moment, or if two ledgers are mixed
 * @example
 * check(onlyAfter(call(camera.expose), call(dome.open)));
 * @see leadsTo for what has to come later
 */
export function onlyAfter(later: EventPattern, earlier: EventPattern): Claim {
  takesOnly(2, arguments, onlyAfter);
  return makeOnlyAfter(partsFor('onlyAfter', later, earlier, onlyAfter), onlyAfter);
}

/**
 * Claims that each call of the first pattern is followed, sooner or later, by one of the second.
 *
 * @throws TypeError if one of them is not a pattern with a moment, or if two ledgers are mixed
 * @example
 * check(leadsTo(call(dome.open), call(dome.close)));
 * @see onlyAfter for what has to come before
 */
export function leadsTo(trigger: EventPattern, effect: EventPattern): Claim {
  takesOnly(2, arguments, leadsTo);
  return makeLeadsTo(partsFor('leadsTo', trigger, effect, leadsTo), leadsTo);
}

function partsFor<K extends HeldPrecedence['kind']>(
  kind: K,
  one: EventPattern,
  other: EventPattern,
  below: Below,
): PartsOf<HeldPrecedence<K>> {
  const example = `${kind}(call(dome.open), call(dome.close))`;
  const [needing, needed] = [asMoment(one, example, below), asMoment(other, example, below)];
  const journal = oneLedger([needing, needed].map(journalOf), 'patterns', below);
  return { kind, journal, needing, needed };
}

const printOnlyAfter = ({ needing, needed }: PartsOf<HeldOnlyAfter>) =>
  `${needing[printsAs]} only after ${needed[printsAs]}`;
const printLeadsTo = ({ needing, needed }: PartsOf<HeldLeadsTo>) =>
  `${needing[printsAs]} leads to ${needed[printsAs]}`;

const makeOnlyAfter = claimMaker<HeldOnlyAfter>(printOnlyAfter);
const makeLeadsTo = claimMaker<HeldLeadsTo>(printLeadsTo);

const [needingFits, neededFits] = [0, 1];

/** Common to both kinds. */
const common = {
  hears: ({ needing, needed }: HeldPrecedence) => ({ events: [needing, needed] }),
  holdsOfNothing: () => false,
  // What came too late is not missing.
  wants: ({ needed }: HeldPrecedence, found: Diagnosis) =>
    found.code === 'tooEarly' && found.first !== undefined ? [] : [{ event: needed, missing: 1 }],
  absent: ({ needing }: HeldPrecedence, { occurred }: { readonly occurred: boolean }) =>
    occurred ? undefined : needing,
  explain: explainPrecedence,
  uses: ({ needing, needed }: HeldPrecedence) => [needing, needed],
  equal: (one: HeldPrecedence, other: HeldPrecedence) =>
    samePattern(one.needing, other.needing) && samePattern(one.needed, other.needed),
};

interface Precedence {
  readonly occurred: boolean;
  /** Whether the needed event has come. */
  readonly seen: boolean;
  readonly lost: boolean;
}

export function onlyAfterParts(): ClaimParts<HeldOnlyAfter, Precedence> {
  return partsOfOnlyAfter;
}

const partsOfOnlyAfter: ClaimParts<HeldOnlyAfter, Precedence> = {
  ...common,
  // A guarded event may rightly never come, if the code under test did run.
  absent: ({ needing, journal }, { occurred }) =>
    occurred || journal.entries.length > 0 ? undefined : needing,
  guarded: ({ needing }) => needing,
  start: () => ({ occurred: false, seen: false, lost: false }),
  take(_, state, { fits }) {
    const { occurred, seen, lost } = state;
    // From here on nothing changes.
    if (occurred && seen) return state;
    return {
      occurred: occurred || fits.includes(needingFits),
      // An event that is its own cause needs an earlier one.
      lost: lost || (fits.includes(needingFits) && !seen),
      seen: seen || fits.includes(neededFits),
    };
  },
  same: (_, one, other) =>
    one.occurred === other.occurred && one.seen === other.seen && one.lost === other.lost,
  stands: (_, { lost }) => (lost ? 'lost' : 'holds'),
  hopes: (_, { lost }) => !lost,
  canComeTrue: () => false,
  canBreak: () => true,
  // A call's end comes after its own beginning, whatever is recorded.
  isAlwaysTrue: ({ needing, needed }) =>
    isAtEnd(needing) && !isAtEnd(needed) && needed.of === needing.calls.of
      ? sameCalls(needing.calls, needed)
      : false,
  print: printOnlyAfter,
};

interface Response {
  readonly occurred: boolean;
  /** Whether an effect is still owed. */
  readonly owed: boolean;
}

export function leadsToParts(): ClaimParts<HeldLeadsTo, Response> {
  return partsOfLeadsTo;
}

const partsOfLeadsTo: ClaimParts<HeldLeadsTo, Response> = {
  ...common,
  start: () => ({ occurred: false, owed: false }),
  take(_, state, { fits }) {
    const occurred = state.occurred || fits.includes(needingFits);
    // An event that is its own effect needs one more.
    const owed = fits.includes(needingFits) || (state.owed && !fits.includes(neededFits));
    return occurred === state.occurred && owed === state.owed ? state : { occurred, owed };
  },
  same: (_, one, other) => one.occurred === other.occurred && one.owed === other.owed,
  stands: (_, { owed }) => (owed ? 'open' : 'holds'),
  hopes: ({ needing, needed }, { occurred, owed }, isAlive) =>
    owed ? isAlive(needed) : occurred || isAlive(needing),
  canComeTrue: () => true,
  canBreak: () => true,
  isAlwaysTrue: () => false,
  print: printLeadsTo,
};
