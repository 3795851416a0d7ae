import type { HeldClaim } from '../claim/claim.ts';
import type { Window } from '../claim/window.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';

/** What a claim is judged on. */
export interface View {
  readonly record: LedgerRecord;
  /** The stretch of the record that counts. */
  readonly window: Window;
  /** All claims of the check. */
  readonly claims: readonly HeldClaim[];
}
