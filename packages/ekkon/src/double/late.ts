import { aboutEntry } from '../explain/diagnosis.ts';
import type { LateCallDiagnosis } from '../explain/rule-finding.ts';
import type { HeldEntry, LedgerRecord } from '../record/ledger-record.ts';
import { rulesOf } from '../record/member.ts';
import { end } from '../record/recording.ts';
import { messageOf } from '../report/message.ts';

/**
 * Applies the rule on calls that come when the ledger is closed. The test has ended, so that its caller is
 * the only one who can still be told.
 *
 * @throws TypeError where the rule is to fail
 */
export function judgeLateCall(record: LedgerRecord, held: HeldEntry): void {
  const level = rulesOf(record, held.label).callAfterClose;
  if (level === 'allow') return;
  const diagnosis: LateCallDiagnosis = {
    code: 'callAfterClose',
    claim: 'rule callAfterClose',
    ...aboutEntry(held),
    ledger: record.name,
  };
  if (level === 'note') {
    record.noted.push(diagnosis);
    return;
  }
  const error = new TypeError(`rule callAfterClose: ${messageOf(diagnosis)}`);
  end(record, held, 'threw', error);
  throw error;
}
