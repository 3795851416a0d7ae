import { intrinsics } from './intrinsics.ts';

/** Control characters, and those that change the direction of a line: a terminal would obey them. */
const signs =
  // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is looked for.
  /[\u0000-\u001f\u007f-\u009f\u061c\u200e\u200f\u2028\u2029\u202a-\u202e\u2066-\u2069]/g;

const escaped = (sign: string) => `\\u${sign.charCodeAt(0).toString(16).padStart(4, '0')}`;

/** A text on one line with such characters as escapes. */
export function escapeControls(text: string): string {
  return text.replace(signs, escaped);
}

/**
 * A text of several lines with such characters as escapes. Every text that leaves Ekkon for a terminal, an error or a
 * file goes through this, so recorded text never controls the device that shows it. Escapes are valid in JSON as
 * well.
 */
export function safeText(text: string): string {
  return text.replace(signs, (sign) => (sign === '\n' ? sign : escaped(sign)));
}

/** A text in double quotes, as it can be read back. */
export function inQuotes(text: string): string {
  return escapeControls(intrinsics.stringify(text));
}
