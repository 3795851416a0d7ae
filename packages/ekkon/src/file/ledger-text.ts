import { shortValue } from '../notation/value.ts';
import { fileFrom } from '../record/call-site.ts';
import type { Journal } from '../record/journal.ts';
import { toLines } from '../record/lines.ts';

/** A ledger file's text, where tests run in a page: places are seen from its origin. */
export function ledgerText(journal: Journal): string {
  const { origin } = location;
  const fileOf = (file: string) => fileFrom(origin, file);
  return `${toLines(journal, { show: shortValue, fileOf }).join('\n')}\n`;
}
