/** Cyrillic and Greek letters, each before the Latin one that it cannot be told from (Unicode TR39, single script pairs). */
const twins =
  'аaеeоoрpсcуyхxіiјjѕsһhԁdАAВBЕEКKМMНHОOРPСCТTХXІIЈJЅSοoαaνvΑAΒBΕEΖZΗHΙIΚKΜMΝNΟOΡPΤTΥYΧX';

const latinFor = new Map(
  Array.from({ length: twins.length / 2 }, (_, at) => [twins[2 * at], twins[2 * at + 1]] as const),
);

/**
 * Where two texts part that look the same and are not: `U+043E instead of U+006F`. `undefined` if they look different,
 * or are equal.
 */
export function hiddenDifference(expected: string, received: string): string | undefined {
  if (expected === received || isPlain(expected + received)) return undefined;
  if (asItLooks(expected) !== asItLooks(received)) return undefined;
  const [one, other] = [[...expected], [...received]];
  const at = one.findIndex((sign, place) => sign !== other[place]);
  const [wanted, found] = at < 0 ? [undefined, other[one.length]] : [one[at], other[at]];
  if (found === undefined) return `nothing instead of ${codeOf(wanted)} at its end`;
  return wanted === undefined
    ? `${codeOf(found)} at its end`
    : `${codeOf(found)} instead of ${codeOf(wanted)}`;
}

/** Whether it has only characters of every keyboard, so nothing in it is hidden. */
function isPlain(text: string): boolean {
  return /^[\t\n\r\x20-\x7e]*$/.test(text);
}

/**
 * A text without invisible differences: forms of letters, signs without width, kinds of blanks, letters of other
 * scripts.
 */
function asItLooks(text: string): string {
  const shown = text
    .normalize('NFKC')
    .replace(/\p{Default_Ignorable_Code_Point}/gu, '')
    .replace(/\p{Zs}/gu, ' ');
  return Array.from(shown, (sign) => latinFor.get(sign) ?? sign).join('');
}

function codeOf(sign = ''): string {
  return `U+${(sign.codePointAt(0) ?? 0).toString(16).toUpperCase().padStart(4, '0')}`;
}
