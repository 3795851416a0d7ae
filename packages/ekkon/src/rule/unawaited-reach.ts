import type { UnawaitedDiagnosis } from '../explain/rule-finding.ts';
import type { LedgerRecord } from '../record/ledger-record.ts';
import { type Broken, brokenAt } from './broken.ts';

/** Waits that nobody awaited: what came after them in the test did not wait. */
export function unawaitedReaches({ waits, rules }: LedgerRecord): readonly Broken[] {
  const unawaited = (
    waits as readonly { readonly unawaited: UnawaitedDiagnosis | undefined }[]
  ).flatMap((wait) => wait.unawaited ?? []);
  return unawaited.flatMap((diagnosis) => brokenAt(rules.unawaitedReach, () => diagnosis));
}
