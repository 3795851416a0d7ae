import { ClaimError, check, type Ledger, openLedger } from 'ekkon';
import { faults, nightWith, stageNight, targets } from 'observatory';
import { pageRecordOf } from '../../ekkon/src/file/page-record.ts';
import { tied } from '../../ekkon/src/record/tie.ts';
import type { PageRecord } from '../../ekkon/src/report/page-data.ts';

/** A dry night as a page has it, with a fault or without. */
export async function nightOf(fault: string | undefined): Promise<PageRecord> {
  const ledger = openLedger({ name: 'a dry night' });
  const { devices, claims } = stageNight(ledger);
  await nightWith(
    faults.filter(({ name }) => name === fault),
    devices,
  ).run(targets);
  try {
    check(claims());
  } catch (error) {
    if (!(error instanceof ClaimError)) throw error;
  }
  return { ...recordOf(ledger), file: fault ?? 'no fault' };
}

/** A ledger as a page has it. */
export function recordOf(ledger: Ledger): PageRecord {
  const held = tied(ledger);
  if (held?.is !== 'ledger') throw new TypeError('this is not a ledger');
  return pageRecordOf(held.journal, ledger.name);
}
