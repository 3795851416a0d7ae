import { existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { closingLine } from '../record/lines.ts';
import { kindOfLine } from '../record/read-lines.ts';
import { type PageData, type PageRecord, pageText } from '../report/page-data.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { linesOfFile } from './read-file.ts';

/** Where the built page is: beside the build, or seen from the sources. */
const places = ['./page/index.html', '../../dist/page/index.html'];

/**
 * A report page about records, as one file that needs nothing else.
 *
 * @throws Error if the page is not built
 */
export function reportPage(data: PageData): string {
  const built = places.map((place) => fileURLToPath(new intrinsics.URL(place, import.meta.url)));
  const page = built.find((path) => existsSync(path));
  if (page === undefined)
    throw new Error('the report page is not built; run npm run build in the repository of ekkon');
  return pageText(readFileSync(page, 'utf8'), data, packed);
}

function packed(text: string): string {
  return gzipSync(text).toString('base64');
}

/** Entries that one page takes; engines scroll no further. */
export const entriesMost = 300_000;

/** The text of a ledger file for a page, and how many entries the file has if it has more than a page takes. */
export function pagePart(path: string, most = entriesMost): Pick<PageRecord, 'text' | 'whole'> {
  const lines: string[] = [];
  let count = 0;
  for (const { text } of linesOfFile(path)) {
    const kind = kindOfLine(text);
    if (kind?.is === 'begins') count++;
    // The page says beside the text how much is left out; the text itself is complete.
    if (kind?.is === 'closes') lines.push(intrinsics.stringify(closingLine(Math.min(count, most))));
    else if (kind === undefined || !('id' in kind) || kind.id <= most) lines.push(text);
  }
  return { text: lines.join('\n'), ...(count > most ? { whole: count } : {}) };
}
