import { sameValues } from '../match/same-value.ts';
import { printTarget } from '../notation/label.ts';
import { printClaimed, shortValue } from '../notation/value.ts';
import { claimedValues } from '../pattern/call.ts';
import type { HeldPattern } from '../pattern/event.ts';
import { asStream, type Stream } from '../pattern/streams.ts';
import type { Fitting } from '../pattern/types.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Member } from '../record/member.ts';
import { printsAs } from '../value/prints-as.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';
import { explainItems } from './explain-items.ts';
import { claimMaker } from './make-claim.ts';
import type { ClaimParts, HeldClaimBase, PartsOf } from './parts.ts';

/** A claim on all the items of a stream, behind its public type. */
export interface HeldExactItems extends HeldClaimBase<'exactItems'> {
  readonly member: Member;
  /** The items claimed, values and matchers. */
  readonly items: readonly unknown[];
}

/**
 * Claims that a stream emitted exactly these items in this order, including any after its end. To claim that it
 * ended, use `completed`.
 *
 * @throws TypeError if it is given no stream, or no list
 * @example
 * import { Readable } from 'node:stream';
 *
 * const rain = ledger.follow(Readable.from([0, 0, 0.41]), 'rain');
 * await reach(exactItems(rain, [0, 0, about(0.4, 0.05)]));
 */
export function exactItems<T>(stream: Stream<T>, items: readonly Fitting<T>[]): Claim {
  takesOnly(2, arguments, exactItems);
  const { journal, member, name } = asStream(stream, exactItems);
  if (!Array.isArray(items)) {
    refuse(
      `exactItems(${name}, …) takes a list of items, and was given ${shortValue(items)}. Write exactItems(${name}, [${shortValue(items)}]).`,
      exactItems,
    );
  }
  const claimed = claimedValues(items, member, exactItems);
  return makeHeld({ kind: 'exactItems', journal, member, items: claimed }, exactItems);
}

const print = ({ member, items }: PartsOf<HeldExactItems>) =>
  `items of ${printTarget(member.target)} are ${printClaimed(items)}`;

const makeHeld = claimMaker<HeldExactItems>(print);

/** How many items have come, and whether they are those claimed. */
interface Items {
  readonly met: number;
  readonly wrong: boolean;
}

/**
 * Each claimed item is a pattern of its own, by its place; the pattern of any item comes last. Which place an
 * item has is known from the state alone.
 */
export function exactItemsParts(): ClaimParts<HeldExactItems, Items> {
  return parts;
}

const parts: ClaimParts<HeldExactItems, Items> = {
  wants(claim, found) {
    if (found.code !== 'wrongItems') return [];
    const { events } = parts.hears(claim);
    return found.differences.flatMap(({ path: [at], kind }) => {
      const isItem = typeof at === 'number' && kind !== 'surplus' && at < events.length - 1;
      const event = isItem ? events[at] : undefined;
      return event === undefined ? [] : [{ event, missing: 1 }];
    });
  },
  hears: (claim) => ({
    events: [...claim.items.map((value) => itemPattern(claim, [value])), itemPattern(claim, [])],
  }),
  start: () => ({ met: 0, wrong: false }),
  take: ({ items }, { met, wrong }, { fits }) => ({
    met: Math.min(met + 1, items.length + 1),
    wrong: wrong || met >= items.length || !fits.includes(met),
  }),
  asks: (_, { met }) => [met],
  same: (_, one, other) => one.met === other.met && one.wrong === other.wrong,
  stands: ({ items }, { met, wrong }) => (wrong ? 'lost' : met === items.length ? 'holds' : 'open'),
  hopes: (claim, { met, wrong }, isAlive) =>
    !wrong && (met === claim.items.length || isAlive(itemPattern(claim, []))),
  absent: () => undefined,
  explain: explainItems,
  uses: (claim) => [
    itemPattern(claim, []),
    { ...itemPattern(claim, []), of: 'end' },
    { ...itemPattern(claim, []), of: 'failure' },
  ],
  canComeTrue: ({ items }) => items.length > 0,
  canBreak: () => true,
  holdsOfNothing: ({ items }) => items.length === 0,
  isAlwaysTrue: () => false,
  equal: (one, other) =>
    one.member.target === other.member.target && sameValues(one.items, other.items),
  print,
};

function itemPattern({ member }: HeldExactItems, value: readonly unknown[]): HeldPattern {
  const claimed = value.length === 0 ? undefined : { items: value, rest: false };
  return { of: 'item', member, claimed, [printsAs]: `item ${printTarget(member.target)}` };
}
