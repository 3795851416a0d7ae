import { conformsParts, type HeldConforms } from './conforms.ts';
import { countParts, type HeldCount } from './count.ts';
import type { HeldDuring } from './during.ts';
import { type AnyParts, makeDuringParts } from './during-parts.ts';
import { exactItemsParts, type HeldExactItems } from './exact-items.ts';
import { type HeldInFlight, inFlightParts } from './in-flight.ts';
import { type HeldNothingElse, nothingElseParts } from './nothing-else.ts';
import { orderParts } from './order/order.ts';
import type { HeldOrder } from './order/steps.ts';
import { type ClaimParts, type Counted, type HeldClaimBase, heldClaimOf } from './parts.ts';
import {
  type HeldLeadsTo,
  type HeldOnlyAfter,
  leadsToParts,
  onlyAfterParts,
} from './precedence.ts';

/** The kinds of claim, each with its type behind the public one. */
export interface HeldClaims {
  readonly count: HeldCount;
  readonly order: HeldOrder;
  readonly onlyAfter: HeldOnlyAfter;
  readonly leadsTo: HeldLeadsTo;
  readonly inFlight: HeldInFlight;
  readonly exactItems: HeldExactItems;
  readonly during: HeldDuring;
  readonly nothingElse: HeldNothingElse;
  readonly conforms: HeldConforms;
}

export type ClaimKind = keyof HeldClaims;

/** A claim behind its public type. */
export type HeldClaim = HeldClaims[ClaimKind];

/**
 * What gives the parts of each kind: some are loaded when they are first asked for. A kind that is left out, or that
 * lacks a part, does not compile.
 */
const claimKinds: { readonly [K in ClaimKind]: () => ClaimParts<HeldClaims[K], unknown> } = {
  count: () => countParts,
  order: () => orderParts,
  onlyAfter: onlyAfterParts,
  leadsTo: leadsToParts,
  inFlight: inFlightParts,
  exactItems: exactItemsParts,
  during: () => makeDuringParts(partsOf),
  nothingElse: nothingElseParts,
  conforms: conformsParts,
};

const known = new Map<string, AnyParts>();

/** The parts of a claim's kind. */
export function partsOf({ kind }: HeldClaimBase): AnyParts {
  const parts = known.get(kind) ?? claimKinds[kind as ClaimKind]();
  if (!known.has(kind)) known.set(kind, parts);
  return parts;
}

/** The claim behind its public type; `undefined` if the value is none. */
export function claimOf(value: unknown): HeldClaim | undefined {
  return heldClaimOf(value) as HeldClaim | undefined;
}

/** Whether two claims claim the same: of one kind, with the same ranges and the same patterns. */
export function sameClaim(one: HeldClaim, other: HeldClaim): boolean {
  return one === other || (one.kind === other.kind && partsOf(one).equal(one, other));
}

/** The claim that a claim judges in each of its stretches; `undefined` if it has none. */
export function innerOf(claim: HeldClaim): HeldClaim | undefined {
  return partsOf(claim).inner?.(claim) as HeldClaim | undefined;
}

/** The claim inside all stretches. */
export function innermost(claim: HeldClaim): HeldClaim {
  const inner = innerOf(claim);
  return inner === undefined ? claim : innermost(inner);
}

/** How many events of one pattern a claim wants, inside or outside of stretches; `undefined` for other kinds. */
export function countedBy(claim: HeldClaim): Counted | undefined {
  return partsOf(claim).counted?.(claim);
}
