import { shortValue } from '../notation/value.ts';
import type { Claim } from '../record/claim-type.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Double } from '../record/member.ts';
import { tied } from '../record/tie.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';
import { driftsIn, explainDrift } from './explain-drift.ts';
import { claimMaker } from './make-claim.ts';
import type { ClaimParts, HeldClaimBase, PartsOf } from './parts.ts';

/** A claim that a double still matches the real thing, behind its public type. */
export interface HeldConforms extends HeldClaimBase<'conforms'> {
  readonly double: Double;
  /** The real object, or the prototype of the real class. */
  readonly real: object;
  readonly realName: string;
  readonly ofWhole: true;
}

/**
 * Claims that a double has not drifted from the real thing: every member of it that was called or planned exists on
 * the real one, takes as many arguments as it was called with, and is of the same nature: a method, a property,
 * asynchronous. A class does not show its fields; pass an instance if there are any.
 *
 * @param double a stand-in
 * @param real the real object, or its class
 * @throws TypeError if the first is not a stand-in, or the second not an object
 * @example
 * const cover = ledger.standIn('cover', CoverMotor);
 * check(conforms(cover, CoverMotor));
 */
export function conforms(double: object, real: object): Claim {
  takesOnly(2, arguments, conforms);
  const held = tied(double);
  if (held?.is !== 'double') {
    refuse(
      `conforms() takes a stand-in first, and was given ${shortValue(double)}. Write conforms(dome, RobotDome).`,
      conforms,
    );
  }
  if ((typeof real !== 'object' && typeof real !== 'function') || real === null) {
    refuse(
      `conforms(${held.name}, …) takes the real object or its class, and was given ${shortValue(real)}.`,
      conforms,
    );
  }
  const isClass = typeof real === 'function' && typeof real.prototype === 'object';
  const parts = {
    kind: 'conforms',
    journal: held.journal,
    double: held,
    real: isClass ? real.prototype : real,
    realName: isClass ? real.name || 'class' : shortValue(real, 40),
    ofWhole: true,
  } as const;
  return makeHeld(parts, conforms);
}

const print = ({ double, realName }: PartsOf<HeldConforms>) =>
  `conforms ${double.name} ‹${realName}›`;

const makeHeld = claimMaker<HeldConforms>(print);

/** The calls of the double, the latest first. */
export type CallList = { readonly entry: HeldEntry; readonly next: CallList } | undefined;

export function conformsParts(): ClaimParts<HeldConforms, CallList> {
  return parts;
}

const parts: ClaimParts<HeldConforms, CallList> = {
  hears: ({ double }) => ({ events: [], beginnings: (target) => target.double === double.name }),
  doubles: ({ double }) => [double.name],
  start: () => undefined,
  take: (_, next, { entry }) => (entry.kind === 'call' ? { entry, next } : next),
  same: (_, one, other) => one === other,
  stands(claim, calls, evidence) {
    const entries: HeldEntry[] = [];
    for (let left = calls; left !== undefined; left = left.next) entries.push(left.entry);
    return driftsIn(claim, entries.reverse(), evidence).length === 0 ? 'holds' : 'open';
  },
  absent: () => undefined,
  explain: explainDrift,
  uses: () => [],
  canComeTrue: () => false,
  canBreak: () => true,
  holdsOfNothing: () => true,
  isAlwaysTrue: () => false,
  equal: (one, other) => one.double === other.double && one.real === other.real,
  print,
};
