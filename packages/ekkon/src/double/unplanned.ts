import { explainUnplanned } from '../explain/explain-unplanned.ts';
import type { HeldPlan } from '../plan/plan.ts';
import type { HeldEntry, Member } from '../record/ledger-record.ts';
import { end } from '../record/recording.ts';
import { messageOf } from '../report/message.ts';
import { unplannedLines } from '../report/unplanned-lines.ts';

/**
 * Records that a call found nothing to answer it, and makes the error that its caller gets. The finding
 * stays with the ledger, so that it is told at close though the caller swallowed the error.
 */
export function unplannedCall(member: Member<HeldPlan>, entry: HeldEntry): Error {
  const diagnosis = explainUnplanned(member, entry);
  const told = [messageOf(diagnosis), ...unplannedLines(diagnosis).map((line) => `    ${line}`)];
  const error = new TypeError(`${told.join('\n')}\n`);
  end(member.record, entry, 'threw', error);
  member.record.unplanned.push({ member, entry });
  return error;
}
