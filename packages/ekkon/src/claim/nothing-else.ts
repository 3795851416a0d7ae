import { printDouble, printTarget } from '../notation/label.ts';
import { shortValue } from '../notation/value.ts';
import { oneLedger } from '../pattern/as-pattern.ts';
import type { Claim } from '../record/claim-type.ts';
import { nameOf, type Tied } from '../record/member.ts';
import type { Target } from '../record/target.ts';
import { tiedWhole } from '../record/tie.ts';
import { refuse } from '../value/refuse.ts';
import { explainNothingElse } from './explain-nothing-else.ts';
import { claimMaker } from './make-claim.ts';
import type { ClaimParts, HeldClaimBase, PartsOf } from './parts.ts';

/** A claim that there are no entries beside those claimed, behind its public type. */
export interface HeldNothingElse extends HeldClaimBase<'nothingElse'> {
  /** The doubles, members or streams that it covers, or the whole ledger. */
  readonly doubles: readonly Tied[];
  readonly ofWhole: true;
}

/**
 * Claims that every call of these doubles is covered: by a claim that expects it (`never` expects none), by a counted
 * plan, or because the test read it with `entries(pattern)`. It is judged after the other claims of its check.
 *
 * @param of doubles of one ledger, or the ledger itself
 * @throws TypeError if one of them is neither, or if two ledgers are mixed
 * @example
 * check(once(call(dome.open)), once(call(dome.close)), nothingElse(dome));
 */
export function nothingElse(...of: [object, ...object[]]): Claim {
  if (of.length === 0)
    refuse(
      'nothingElse() was given no double. Write nothingElse(ledger) for all of them.',
      nothingElse,
    );
  const doubles = of.map((each) => {
    const found = tiedWhole(each);
    if (found === undefined) {
      refuse(
        `nothingElse() takes doubles or a ledger, and was given ${shortValue(each)}. Write nothingElse(dome, mount).`,
        nothingElse,
      );
    }
    return found;
  });
  const journal = oneLedger(
    doubles.map((each) => each.journal),
    'doubles',
    nothingElse,
  );
  return makeHeld({ kind: 'nothingElse', journal, doubles, ofWhole: true }, nothingElse);
}

const print = ({ doubles }: PartsOf<HeldNothingElse>) =>
  doubles.some(({ is }) => is === 'ledger')
    ? 'nothing else'
    : `nothing else on ${doubles.map(printHeld).join(', ')}`;

const printHeld = (held: Tied) =>
  held.is === 'member' ? printTarget(held.target) : printDouble(nameOf(held));

const makeHeld = claimMaker<HeldNothingElse>(print);

/** The entries of its doubles, the latest first. */
export type EntryList = { readonly id: number; readonly next: EntryList } | undefined;

export function nothingElseParts(): ClaimParts<HeldNothingElse, EntryList> {
  return parts;
}

const parts: ClaimParts<HeldNothingElse, EntryList> = {
  hears: (claim) => ({ events: [], beginnings: (target) => speaksOf(claim, target) }),
  start: () => undefined,
  take: (_, next, { entry }) => ({ id: entry.id, next }),
  same: (_, one, other) => one === other,
  stands(_, entries, evidence) {
    const accounted = evidence.accounted();
    for (let left = entries; left !== undefined; left = left.next)
      if (!accounted.has(left.id)) return 'open';
    return 'holds';
  },
  absent: () => undefined,
  explain: explainNothingElse,
  asksCover: (claim) => (target) => speaksOf(claim, target),
  doubles: ({ doubles }) =>
    doubles.flatMap((held) => {
      if (held.is === 'ledger') return [];
      return [held.is === 'member' ? held.target.double : held.name];
    }),
  uses: () => [],
  canComeTrue: () => false,
  canBreak: () => true,
  holdsOfNothing: () => true,
  isAlwaysTrue: () => false,
  equal: (one, other) =>
    one.doubles.length === other.doubles.length &&
    one.doubles.every((double, at) => double === other.doubles[at]),
  print,
};

/** Whether a target is one of a claim's doubles, or belongs to one. */
export function speaksOf({ doubles }: HeldNothingElse, target: Target): boolean {
  return doubles.some((held) => isPartOf(target, held));
}

function isPartOf(target: Target, held: Tied): boolean {
  switch (held.is) {
    case 'ledger':
      return true;
    case 'member':
      return isAtOrBelow(target, held.target);
    case 'double':
    case 'stream':
      return target.double === held.name;
  }
}

/** Whether a target is a member, or a member of that member. */
function isAtOrBelow(target: Target, { double, keys }: Target): boolean {
  return target.double === double && keys.every((key, at) => target.keys[at] === key);
}
