import type { LoadedLedger } from './file/index.ts';
import { claimsIn } from './grammar/parse-claims.ts';
import type { Ledger } from './ledger/ledger.ts';
import { shortValue } from './notation/value.ts';
import type { Claim } from './record/claim-type.ts';
import { tied } from './record/tie.ts';
import { refuse } from './value/refuse.ts';

export { NotationError } from './grammar/notation-error.ts';

/**
 * Reads claims from a text, as reports write them, for a ledger or a loaded record. docs/claims.md describes the
 * language.
 *
 * @param text the content of a claims file; sections, `ledger "a dry night"`, are for ledgers of that name
 * @param on the ledger that the claims are about
 * @returns the claims for this ledger, in order; pass them to `check`
 * @throws NotationError with `line`, `column`, and a caret below the place, if the text is wrong; TypeError if it is
 * given no text or no ledger
 * @example
 * import { parseClaims } from 'ekkon/claims';
 *
 * check(parseClaims('once dome.close\nnever alarm.sound', ledger));
 */
export function parseClaims(text: string, on: Ledger | LoadedLedger): readonly Claim[] {
  const held = tied(on);
  if (typeof text !== 'string' || held?.is !== 'ledger') {
    refuse(
      `parseClaims() takes a text and a ledger, and was given ${shortValue(text, 40)} and ${shortValue(on, 40)}. Write parseClaims('once dome.open', ledger).`,
      parseClaims,
    );
  }
  return claimsIn(text, held.journal);
}
