import { intrinsics } from './intrinsics.ts';

/** Control characters, and those that change the direction of a line: a terminal would obey them. */
const signs =
  // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is looked for.
  /[\u0000-\u001f\u007f-\u009f\u061c\u200e\u200f\u2028\u2029\u202a-\u202e\u2066-\u2069]/g;

/** A text with such characters as escapes, so that nothing recorded steers what shows it. */
export function escapeControls(text: string): string {
  return text.replace(signs, (sign) => `\\u${sign.charCodeAt(0).toString(16).padStart(4, '0')}`);
}

/** A text in double quotes, as it can be read back. */
export function inQuotes(text: string): string {
  return escapeControls(intrinsics.stringify(text));
}
