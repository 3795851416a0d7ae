import type { Accounted } from '../explain/accounted.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import type { Broken } from './broken.ts';
import { changedArguments } from './changed-argument.ts';
import { nothingChecked } from './nothing-checked.ts';
import { unawaitedReaches } from './unawaited-reach.ts';
import { uncheckedClaims } from './unchecked-claim.ts';
import { unclaimedCalls } from './unclaimed-call.ts';
import { unfinishedCalls } from './unfinished-call.ts';
import { untouchedDoubles } from './untouched-double.ts';
import { unusedPlans } from './unused-plan.ts';

/** What the rules that are looked at when a ledger is closed find, the most telling first. */
export function brokenAtClose(record: LedgerRecord, accounted: Accounted): readonly Broken[] {
  return [
    ...unusedPlans(record),
    ...unfinishedCalls(record),
    ...unawaitedReaches(record),
    ...uncheckedClaims(record),
    ...untouchedDoubles(record, accounted),
    ...nothingChecked(record),
    ...changedArguments(record, 'fail'),
    ...unclaimedCalls(record, accounted),
  ];
}
