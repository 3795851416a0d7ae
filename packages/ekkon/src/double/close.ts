import { countFor } from '../claim/count.ts';
import { explainCount } from '../explain/explain-count.ts';
import { explainUnplanned } from '../explain/explain-unplanned.ts';
import type { Diagnosis, SlotDiagnosis, Verdict } from '../explain/finding.ts';
import type { HeldPlan } from '../plan/plan.ts';
import { readSite } from '../record/call-site.ts';
import type { LedgerRecord, Member } from '../record/ledger-record.ts';
import { messageOf } from '../report/message.ts';

/**
 * Closes a ledger: puts every member back, the last replaced first, and judges what is standing. A
 * second time it does nothing.
 */
export function closeRecord(record: LedgerRecord): Verdict {
  const first = !record.closed;
  record.closed = true;
  const slots = first ? putBack(record) : [];
  const diagnoses: Diagnosis[] = first
    ? [...unplanned(record), ...unmetPlans(record), ...slots]
    : [];
  const findings = diagnoses.map((diagnosis) => ({ ...diagnosis, message: messageOf(diagnosis) }));
  return { holds: findings.length === 0, ledger: record.name, closing: true, claims: 0, findings };
}

function putBack({ slots }: LedgerRecord): readonly SlotDiagnosis[] {
  const changed: SlotDiagnosis[] = [];
  for (const slot of [...slots].reverse()) {
    if (slot.restore()) continue;
    changed.push({
      code: 'changedSlot',
      claim: 'everything is put back',
      culprits: [],
      at: undefined,
      member: slot.member,
    });
  }
  return changed;
}

function unplanned(record: LedgerRecord): readonly Diagnosis[] {
  return record.unplanned.map(({ member, entry }) =>
    explainUnplanned(member as Member<HeldPlan>, entry),
  );
}

/** Counted plans that answered fewer calls than they require, or were called once more than that. */
function unmetPlans(record: LedgerRecord): readonly Diagnosis[] {
  const plans = record.members.flatMap((member) => (member as Member<HeldPlan>).plans);
  return plans.flatMap(({ counted, answered, captured }) => {
    if (counted === undefined) return [];
    const { least, most } = counted.range;
    if (answered.length >= least && answered.length <= most) return [];
    const { undecided } = countFor(counted.held, record.entries);
    const diagnosis = explainCount(counted, record.entries, {
      fitting: answered,
      undecided: answered.length > most ? [] : undecided,
    });
    return [{ ...diagnosis, plannedAt: captured === undefined ? undefined : readSite(captured) }];
  });
}
