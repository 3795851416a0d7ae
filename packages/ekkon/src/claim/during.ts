import { shortValue } from '../notation/value.ts';
import { asMoment, oneLedger } from '../pattern/as-pattern.ts';
import { type HeldEvent, isAtEnd, isEnd, journalOf } from '../pattern/event.ts';
import { sameCalls, samePattern } from '../pattern/same-pattern.ts';
import type { EventPattern } from '../pattern/types.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Journal } from '../record/journal.ts';
import { type HeldMark, isMark, type Mark, markOf } from '../record/mark.ts';
import { printsAs } from '../value/prints-as.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';
import { claimMaker, noteClaimUsed } from './make-claim.ts';
import { type HeldClaimBase, heldClaimOf, type PartsOf } from './parts.ts';

/** A claim on stretches of the record, behind its public type. */
export interface HeldDuring extends HeldClaimBase<'during'> {
  readonly from: HeldBound | undefined;
  readonly until: HeldBound | undefined;
  /** Whether only stretches that come to their end count. */
  readonly endedOnly: boolean;
  /** Whether a stretch ends with the call that began it, so there is one stretch for each call. */
  readonly isOwnEnd: boolean;
  readonly inner: HeldClaimBase;
}

export type HeldBound = HeldEvent | HeldMark;

type Bound = EventPattern | Mark;

/** Where a stretch begins and ends. */
export type Stretch =
  | { readonly from: Bound; readonly until?: never; readonly endedOnly?: never }
  | {
      readonly from?: Bound;
      readonly until: Bound;
      /** Only stretches that come to their end count. Default: one with no end runs to the end of the record. */
      readonly endedOnly?: boolean;
    };

/**
 * Claims that a claim holds in every stretch of the record between two events. You may leave out either end, or
 * use a mark as one. A stretch without an end runs to the end of the record. If `until` is how the calls of `from` end,
 * each call has a stretch of its own.
 *
 * @throws TypeError if an end is not a pattern with a moment, if both are missing, if there is no claim, or if
 * two ledgers are mixed
 * @example
 * check(during({ from: call(mount.slewTo), until: settled(call(mount.slewTo)) }, never(call(camera.expose))));
 */
export function during(stretch: Stretch, claim: Claim): Claim {
  takesOnly(2, arguments, during);
  const inner = heldClaimOf(claim);
  if (inner === undefined || inner.ofWhole === true) {
    refuse(
      `during() takes a claim that can hold in a stretch, and was given ${shortValue(claim)}. Write during({ from, until }, never(call(camera.expose))).`,
      during,
    );
  }
  const { from, until, endedOnly } = readStretch(stretch);
  const bounds = [from, until].filter((bound) => bound !== undefined);
  const journal = oneLedger(
    [inner.journal, ...bounds.map(journalOfBound)],
    'a claim and a stretch',
    during,
  );
  noteClaimUsed(inner);
  const isOwnEnd = endsWithItself(from, until);
  return makeHeld({ kind: 'during', journal, from, until, endedOnly, isOwnEnd, inner }, during);
}

function readStretch(stretch: unknown): Pick<HeldDuring, 'from' | 'until' | 'endedOnly'> {
  const given = (stretch ?? {}) as { readonly [key in PropertyKey]?: unknown };
  const unknown = Object.keys(given).find((key) => !['from', 'until', 'endedOnly'].includes(key));
  if (unknown !== undefined) {
    refuse(
      `during(): a stretch has from, until and endedOnly, and was given ${unknown}. Write during({ from: call(mount.slewTo) }, …).`,
      during,
    );
  }
  const [from, until] = [readBound(given['from']), readBound(given['until'])];
  const endedOnly = given['endedOnly'] ?? false;
  if (from === undefined && until === undefined) {
    refuse(
      'during() was given neither end of a stretch. Write during({ from: call(mount.slewTo) }, …), or the claim alone.',
      during,
    );
  }
  if (typeof endedOnly !== 'boolean' || (endedOnly && until === undefined)) {
    refuse(
      `during(): endedOnly must be true or false, and needs until; it was given ${shortValue(endedOnly)}. Write during({ from, until, endedOnly: true }, …).`,
      during,
    );
  }
  if (
    from !== undefined &&
    until !== undefined &&
    isMark(from) &&
    isMark(until) &&
    from.tick >= until.tick
  ) {
    refuse(
      `during(): ${from[printsAs]} does not come before ${until[printsAs]}, so there is no stretch between them. Write the earlier mark as from.`,
      during,
    );
  }
  return { from, until, endedOnly };
}

function readBound(value: unknown): HeldBound | undefined {
  if (value === undefined) return undefined;
  return markOf(value) ?? asMoment(value, 'during({ from: call(mount.slewTo) }, …)', during);
}

function journalOfBound(bound: HeldBound): Journal {
  return isMark(bound) ? bound.journal : journalOf(bound);
}

/** Whether a stretch ends with the very call that it began with. */
function endsWithItself(from: HeldBound | undefined, until: HeldBound | undefined): boolean {
  if (from === undefined || until === undefined || isMark(from) || isMark(until)) return false;
  return !isEnd(from) && isAtEnd(until) && sameCalls(from, until.calls);
}

/** A scope and its claim: `after mount.slewTo until settled mount.slewTo: never camera.expose`. */
export function printDuring({ from, until, endedOnly, inner }: PartsOf<HeldDuring>): string {
  const claim = inner[printsAs];
  if (from === undefined && until !== undefined)
    return `${endedOnly ? 'before' : 'until'} ${until[printsAs]}: ${claim}`;
  if (from === undefined) return claim;
  if (until === undefined) return `after ${from[printsAs]}: ${claim}`;
  return endedOnly
    ? `between ${from[printsAs]} and ${until[printsAs]}: ${claim}`
    : `after ${from[printsAs]} until ${until[printsAs]}: ${claim}`;
}

const makeHeld = claimMaker<HeldDuring>(printDuring);

/** Whether two bounds are the same moment, or the same pattern. */
export function sameBound(one: HeldBound | undefined, other: HeldBound | undefined): boolean {
  if (one === other) return true;
  if (one === undefined || other === undefined || isMark(one) || isMark(other)) return false;
  return samePattern(one, other);
}
