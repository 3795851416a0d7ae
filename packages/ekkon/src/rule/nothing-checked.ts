import { aboutEntry } from '../explain/diagnosis.ts';
import type { NothingCheckedDiagnosis } from '../explain/rule-finding.ts';
import { strictest } from '../explain/rule-level.ts';
import type { HeldPlan } from '../plan/plan.ts';
import type { LedgerRecord, Member } from '../record/ledger-record.ts';
import { rulesOf } from '../record/member.ts';
import { printsAs } from '../record/prints-as.ts';
import { siteOf, unused } from '../record/written.ts';
import { type Broken, brokenAt } from './broken.ts';

/** Doubles that were called though no claim was judged once they had been, and the test did not look. */
export function nothingChecked(record: LedgerRecord): readonly Broken[] {
  const { judged, lookedAt, members } = record;
  const calls = record.entries.filter(
    ({ label }) => rulesOf(record, label).nothingChecked !== 'allow',
  );
  const [first] = calls;
  if (first === undefined || lookedAt.size > 0) return [];
  const isCounted = (members as readonly Member<HeldPlan>[]).some(({ plans }) =>
    plans.some(({ counted }) => counted !== undefined),
  );
  if (isCounted || judged.some(({ upTo }) => upTo >= first.began)) return [];
  const levels = new Set(calls.map(({ label }) => rulesOf(record, label).nothingChecked));
  return brokenAt(strictest([...levels]), () => ({
    code: 'nothingChecked',
    claim: 'rule nothingChecked',
    ...aboutEntry(first),
    calls: calls.length,
    early: judged.length,
    bare: barePattern(record),
  }));
}

/** A pattern that was written as if it were a claim. */
function barePattern(record: LedgerRecord): NothingCheckedDiagnosis['bare'] {
  const [statement] = unused(record).find(([, { is }]) => is === 'pattern') ?? [];
  if (statement === undefined) return undefined;
  const notation = (statement as { readonly [printsAs]: string })[printsAs];
  return { notation, at: siteOf(record, statement) };
}
