import { captureSite } from './call-site.ts';
import type { LedgerRecord, Written } from './ledger-record.ts';

/** Notes that a claim or a pattern was written: it is one that nothing has used, until something does. */
export function noteWritten<T extends object>(
  record: LedgerRecord,
  is: Written['is'],
  statement: T,
  below: (...args: never[]) => unknown,
): T {
  record.written.set(statement, { is, captured: writtenSite(record, below) });
  return statement;
}

/** Notes that something has used a claim or a pattern. */
export function noteUsed(record: LedgerRecord, statement: object): void {
  record.written.delete(statement);
}

/** Where something is written, as long as places may be captured. */
export function writtenSite(
  record: LedgerRecord,
  below: (...args: never[]) => unknown,
): Written['captured'] {
  if (record.writtenSitesLeft <= 0) return undefined;
  record.writtenSitesLeft--;
  return captureSite(below);
}
