/**
 * Tells a text by its signs. Texts of plain signs are nearly all, and need no Unicode classes: an engine reads those
 * when it first sees them, which would take longer than much of a start.
 */
function ofSigns(plain: RegExp, any: string): (text: string) => boolean {
  let whole: RegExp | undefined;
  return (text) => {
    if (/^[ -~]*$/.test(text)) return plain.test(text);
    whole ??= new RegExp(any, 'u');
    return whole.test(text);
  };
}

/** Whether a text can be a name in code. */
export const isIdentifier: (text: string) => boolean = ofSigns(
  /^[A-Za-z_$][\w$]*$/,
  '^[\\p{ID_Start}$_][\\p{ID_Continue}$]*$',
);

/** Whether a text has what names in code have, and dots. */
export const isDotted: (text: string) => boolean = ofSigns(/^[\w$.]+$/, '^[\\p{ID_Continue}$.]+$');

/** Whether a text has letters alone. */
export const isLetters: (text: string) => boolean = ofSigns(/^[A-Za-z]+$/, '^\\p{L}+$');
