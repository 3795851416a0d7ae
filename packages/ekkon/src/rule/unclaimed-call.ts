import type { HeldClaim } from '../claim/claim.ts';
import type { Accounted } from '../explain/accounted.ts';
import { tellUnclaimed } from '../explain/judge-nothing-else.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { rulesOf } from '../record/member.ts';
import { type Broken, brokenTogether } from './broken.ts';

/** Entries that no claim wants, no counted plan answered and the test did not look at. */
export function unclaimedCalls(record: LedgerRecord, accounted: Accounted): readonly Broken[] {
  const { rules, ruled, entries, judged, unplanned } = record;
  if ([rules, ...ruled.map((each) => each.rules)].every((each) => each.unclaimedCall === 'allow'))
    return [];
  // A call that nothing answered is told of already.
  const told = new Set(unplanned.map(({ entry }) => entry.id));
  const left = entries.filter(({ id }) => !accounted().has(id) && !told.has(id));
  const claims = judged.map(({ claim }) => claim as HeldClaim);
  return brokenTogether(
    left,
    ({ label }) => rulesOf(record, label).unclaimedCall,
    (broken) => ({
      code: 'unclaimedCall',
      claim: 'rule unclaimedCall',
      ...tellUnclaimed(broken, claims),
    }),
  );
}
