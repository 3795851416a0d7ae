import type { HeldClaim } from '../claim/claim.ts';
import { countFor, inRange } from '../claim/count.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { explainCount } from './explain-count.ts';
import { explainDrift } from './explain-drift.ts';
import type { Diagnosis } from './finding.ts';

/**
 * Judges one claim against a record: nothing where it holds, else why it does not. Where it depends on
 * calls of which it cannot be told whether they fit, it does not hold.
 */
export function judge(claim: HeldClaim, record: LedgerRecord): Diagnosis | undefined {
  switch (claim.claim) {
    case 'count': {
      const count = countFor(claim.held, record.entries);
      const least = count.fitting.length;
      const most = least + count.undecided.length;
      const holds = inRange(claim.range, least) && inRange(claim.range, most);
      return holds ? undefined : explainCount(claim, record.entries, count);
    }
    case 'conforms':
      return explainDrift(claim, record);
  }
}
