import { shortValue } from '../notation/value.ts';
import { fileFrom } from '../record/call-site.ts';
import type { Journal } from '../record/journal.ts';
import { toLines } from '../record/lines.ts';
import { workingFolder } from '../report/places.ts';

/** A ledger file's text, with places as they are seen from the working folder or, in a page, from its origin. */
export function ledgerText(journal: Journal): string {
  const folder = workingFolder() ?? '';
  const fileOf = (file: string) => fileFrom(folder, file);
  return `${toLines(journal, { show: shortValue, fileOf }).join('\n')}\n`;
}
