import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import type { PageRecord } from '../report/page-data.ts';
import { reportPage } from './report-page.ts';
import { writeIndex } from './save-index.ts';

/**
 * Writes a ledger file, its report page, and the page that lists all of its folder.
 *
 * @param path where they are written, without an ending
 * @param text the ledger file's text
 */
export function writeSaved(path: string, text: string, record: PageRecord): void {
  const folder = dirname(path);
  mkdirSync(folder, { recursive: true });
  writeFileSync(`${path}.ledger.jsonl`, text);
  writeFileSync(`${path}.html`, reportPage({ records: [record] }));
  writeIndex(folder);
}
