import { aboutEntry } from '../explain/diagnosis.ts';
import type { NothingCheckedDiagnosis } from '../explain/rule-finding.ts';
import { strictest } from '../explain/rule-level.ts';
import type { HeldPlan } from '../plan/plan.ts';
import { readSite } from '../record/call-site.ts';
import type { LedgerRecord, Member } from '../record/ledger-record.ts';
import { rulesOf } from '../record/member.ts';
import { printsAs } from '../record/prints-as.ts';
import { siteOf, unused } from '../record/written.ts';
import { type Broken, brokenAt } from './broken.ts';

/**
 * Doubles that were called, or streams that were followed, though no claim was judged once they had been,
 * and the test did not look.
 */
export function nothingChecked(record: LedgerRecord): readonly Broken[] {
  const { judged, lookedAt, members, streams } = record;
  const calls = record.entries.filter(
    ({ label }) => rulesOf(record, label).nothingChecked !== 'allow',
  );
  const [first] = calls;
  if (lookedAt.size > 0) return [];
  const isCounted = (members as readonly Member<HeldPlan>[]).some(({ plans }) =>
    plans.some(({ counted }) => counted !== undefined),
  );
  const since = first?.began ?? 0;
  if (isCounted || judged.some(({ upTo }) => upTo >= since)) return [];
  if (first === undefined && streams.length === 0) return [];
  const labels = new Set([...calls, ...streams].map(({ label }) => label));
  const levels = [...labels].map((label) => rulesOf(record, label).nothingChecked);
  return brokenAt(strictest(levels), () => ({
    code: 'nothingChecked',
    claim: 'rule nothingChecked',
    ...(first === undefined ? aboutStream(record) : aboutEntry(first)),
    calls: calls.length,
    streams: streams.map(({ label }) => label),
    early: judged.length,
    bare: barePattern(record),
  }));
}

/** Where nothing was recorded at all, the place at which the first stream was asked for. */
function aboutStream({ streams }: LedgerRecord) {
  return { culprits: [], at: readSite(streams[0]?.captured), entry: undefined };
}

/** A pattern that was written as if it were a claim. */
function barePattern(record: LedgerRecord): NothingCheckedDiagnosis['bare'] {
  const [statement] = unused(record).find(([, { is }]) => is === 'pattern') ?? [];
  if (statement === undefined) return undefined;
  const notation = (statement as { readonly [printsAs]: string })[printsAs];
  return { notation, at: siteOf(record, statement) };
}
