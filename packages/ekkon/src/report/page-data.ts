import { safeText } from '../value/escape.ts';
import { intrinsics } from '../value/intrinsics.ts';
import type { ToldVerdict } from './told.ts';
import { xml } from './xml.ts';

/** One record on a report page. */
export interface PageRecord {
  /** The name of its file, or of its test. */
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
  /** The findings, if all claims were at hand; without them the page judges the written ones. */
  readonly verdict?: ToldVerdict;
}

/** The records of a report page. */
export interface PageData {
  readonly records: readonly PageRecord[];
}

/** The start and the end of the element that holds the data of a page. */
const [opening, closing] = ['<script type="application/json" id="records">', '</script>'];

/** The start of the element if the data is packed. */
const packedOpening = '<script type="text/plain" id="records" data-packed="gzip">';

/** From how many characters on the data of a page is packed. */
const packedFrom = 200_000;

/**
 * A report page with its data.
 *
 * @param page the built page, without data
 * @param pack compresses a text by gzip and returns it in base64; without it nothing is packed
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

/** A page with a title after its records, and with its first finding. */
function titled(page: string, { records }: PageData): string {
  const [only, another] = records;
  if (only === undefined || another !== undefined) return page;
  const title = `<title>${xml(safeText(only.file))} · Ekkon</title>`;
  const first = xml(safeText(only.verdict?.first ?? '')).replace(/\s+/g, ' ');
  const found = first === '' ? '' : `\n<meta name="description" content="${first}">`;
  return page.replace(/<title>[^<]*<\/title>/, () => `${title}${found}`);
}
