import { safeText } from '../value/escape.ts';
import { intrinsics } from '../value/intrinsics.ts';
import type { ToldVerdict } from './told.ts';
import { xml } from './xml.ts';

/** One record on a report page. */
export interface PageRecord {
  /** What its file, or its test, is called. */
  readonly file: string;
  /** The record as it is saved: JSON Lines. */
  readonly text: string;
  /** How many entries there are, if the text has fewer of them. */
  readonly whole?: number;
  /** The claims as text, as far as they can be written. */
  readonly claims: string;
  /** How strict the rules are that it is judged under. */
  readonly rules: 'loose' | 'usual' | 'careful' | 'strict';
  /** The record of the last run that passed, as it was kept. */
  readonly passed?: string;
  /** What was found where all claims were at hand; without it the page judges those that are written. */
  readonly verdict?: ToldVerdict;
}

/** What a report page is about. */
export interface PageData {
  readonly records: readonly PageRecord[];
}

/** How the element begins that holds what a page is about, and how it ends. */
const [opening, closing] = ['<script type="application/json" id="records">', '</script>'];

/** The same if what it holds is packed. */
const packedOpening = '<script type="text/plain" id="records" data-packed="gzip">';

/** From how many characters on what a page is about is packed. */
const packedFrom = 200_000;

/**
 * A report page with what it is about.
 *
 * @param page the built page, without data
 * @param pack compresses a text by gzip and gives it in base64; without it nothing is packed
 * @throws RangeError if it has no place for data
 */
export function pageText(page: string, data: PageData, pack?: (text: string) => string): string {
  const at = page.indexOf(opening);
  const end = page.indexOf(closing, at);
  if (at < 0) throw new RangeError('this page has no place for records');
  // Whatever was recorded is text to the page, and never markup.
  const json = safeText(intrinsics.stringify(data)).replaceAll('<', '\\u003c');
  const isPacked = pack !== undefined && json.length > packedFrom;
  const held = isPacked ? `${packedOpening}${pack(json)}` : `${opening}${json}`;
  return titled(`${page.slice(0, at)}${held}${page.slice(end)}`, data);
}

/** A page called after what it is about, with what was found first. */
function titled(page: string, { records }: PageData): string {
  const [only, another] = records;
  if (only === undefined || another !== undefined) return page;
  const title = `<title>${xml(safeText(only.file))} · Ekkon</title>`;
  const first = xml(safeText(only.verdict?.first ?? '')).replace(/\s+/g, ' ');
  const found = first === '' ? '' : `\n<meta name="description" content="${first}">`;
  return page.replace(/<title>[^<]*<\/title>/, () => `${title}${found}`);
}
