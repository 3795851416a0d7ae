import { captureSite, readSite, type Site } from './call-site.ts';
import type { LedgerRecord, Written } from './ledger-record.ts';

/** Notes that a claim or a pattern was written: it is one that nothing has used, until something does. */
export function noteWritten<T extends object>(
  record: LedgerRecord,
  is: Written['is'],
  statement: T,
  below: (...args: never[]) => unknown,
): T {
  record.written.set(statement, { is, captured: writtenSite(record, below), used: false });
  return statement;
}

/** Notes that something has used a claim or a pattern. */
export function noteUsed(record: LedgerRecord, statement: object): void {
  const written = record.written.get(statement);
  if (written !== undefined) written.used = true;
}

/** Where a claim or a pattern was written. */
export function siteOf(record: LedgerRecord, statement: object): Site | undefined {
  return readSite(record.written.get(statement)?.captured);
}

/** The claims and patterns that nothing has used. */
export function unused({ written }: LedgerRecord): readonly (readonly [object, Written])[] {
  return [...written].filter(([, { used }]) => !used);
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
