import { inFull } from '../notation/value.ts';
import { noteUsed, noteWritten } from '../record/slip.ts';
import type { Below } from '../value/below.ts';
import { ownPrinting } from '../value/prints-as.ts';
import type { HeldClaimBase, PartsOf } from './parts.ts';

/**
 * Gives a way to make claims of a kind from their parts; each is noted with its ledger as written, until it is
 * judged or stands in another one.
 *
 * @param print how it is written, asked for when somebody reads it
 */
export function claimMaker<C extends HeldClaimBase>(
  print: (parts: PartsOf<C>) => string,
): (parts: PartsOf<C>, below: Below) => C {
  const make = ownPrinting<PartsOf<C>>(print, { notation: inFull });
  // The parts, plus the members that `make` adds, are the whole claim.
  return (parts, below) =>
    noteWritten((parts as unknown as C).journal, 'claim', make(parts), below) as unknown as C;
}

/** Notes that a claim is judged, or is a part of another one. */
export function noteClaimUsed(claim: HeldClaimBase): void {
  noteUsed(claim.journal, claim);
}
