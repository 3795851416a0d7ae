import { existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { NotationError } from '../grammar/notation-error.ts';
import { claimsIn } from '../grammar/parse-claims.ts';
import { shortValue } from '../notation/value.ts';
import { fileFrom } from '../record/call-site.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Journal } from '../record/journal.ts';
import { closingLine, toLines } from '../record/lines.ts';
import { fromLines, kindOfLine } from '../record/read-lines.ts';
import { type PageData, type PageRecord, pageText } from '../report/page-data.ts';
import { toldVerdict } from '../report/told.ts';
import { judgementsOn } from '../rule/judgements.ts';
import { lastPassOn } from '../rule/last-pass-on.ts';
import { intrinsics } from '../value/intrinsics.ts';
import { linesOfFile } from './read-file.ts';

/** Where the built page is: beside what is built, or seen from the sources. */
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
    // What is left out is said beside the text, which is whole by itself.
    if (kind?.is === 'closes') lines.push(intrinsics.stringify(closingLine(Math.min(count, most))));
    else if (kind === undefined || !('id' in kind) || kind.id <= most) lines.push(text);
  }
  return { text: lines.join('\n'), ...(count > most ? { whole: count } : {}) };
}

/** What a page shows of a live ledger: its record, the claims that can be written, and what was thrown on it. */
export function pageRecordOf(journal: Journal, file: string): PageRecord {
  const folder = intrinsics.cwd?.() ?? '';
  const fileOf = (path: string) => fileFrom(folder, path);
  const text = toLines(journal, { show: shortValue, fileOf }).join('\n');
  const { judged, thrown } = judgementsOn(journal);
  const claims = [...judged.map(({ claim }) => claim), ...(thrown?.claims ?? [])];
  const { kept } = lastPassOn(journal);
  const passed = kept === undefined ? {} : { passed: kept };
  const written = writtenClaims(text, claims);
  const record = { file, text, claims: written, rules: 'usual', ...passed } as const;
  if (thrown === undefined) return record;
  const { verdict } = thrown;
  return { ...record, verdict: toldVerdict(verdict, thrown.claims) };
}

/** Claims as a text that can be read; those that cannot be written stand in it as comments. */
function writtenClaims(text: string, claims: readonly Claim[]): string {
  const { journal } = fromLines(text);
  const lines = [...new Set(claims.map(({ notation }) => notation))].map((notation) =>
    isReadable(notation, journal) ? notation : `# only in the test: ${notation}`,
  );
  return lines.map((line) => `${line}\n`).join('');
}

function isReadable(notation: string, journal: Journal): boolean {
  try {
    claimsIn(notation, journal);
    return true;
  } catch (error) {
    if (error instanceof NotationError || error instanceof TypeError) return false;
    throw error;
  }
}
