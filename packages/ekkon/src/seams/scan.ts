/** Where code goes on after blanks and comments. */
export function afterGap(code: string, from: number): number {
  let at = from;
  for (;;) {
    while (isBlank(code[at])) at++;
    const end = code.startsWith('//', at)
      ? code.indexOf('\n', at)
      : code.startsWith('/*', at)
        ? code.indexOf('*/', at + 2)
        : undefined;
    if (end === undefined) return at;
    if (end < 0) return code.length;
    at = end + (code[end] === '*' ? 2 : 1);
  }
}

function isBlank(sign: string | undefined): boolean {
  return sign !== undefined && sign.trim() === '';
}

/** Where code goes on after a word that stands at a place; `undefined` if another one stands there. */
export function afterWord(code: string, at: number, word: string): number | undefined {
  const end = at + word.length;
  return code.startsWith(word, at) && !/[\w$]/.test(code[end] ?? '') ? end : undefined;
}
