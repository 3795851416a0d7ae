/**
 * Says where a text of claims is wrong, and what to write: line and column count from 1, and the message has
 * the line itself with a caret below the place.
 */
export class NotationError extends Error {
  readonly line: number;
  readonly column: number;

  constructor(text: string, at: number, why: string) {
    const before = text.slice(0, at).split('\n');
    const line = before.length;
    const column = (before.at(-1)?.length ?? 0) + 1;
    const whole = text.split('\n')[line - 1]?.replace(/\r$/, '') ?? '';
    super(`line ${line}, column ${column}: ${why}\n${shownLine(whole, column)}`);
    this.line = line;
    this.column = column;
  }
}

Object.defineProperty(NotationError.prototype, 'name', {
  value: 'NotationError',
  writable: true,
  configurable: true,
});

/** Columns of a line that are shown around a place. */
const columnsShown = 100;

/** Characters that take two columns (UAX #11), in whose place the caret's line has a blank as wide. */
const wide =
  /[\u1100-\u115f\u2e80-\ua4cf\uac00-\ud7a3\uf900-\ufaff\ufe30-\ufe6f\uff00-\uff60\uffe0-\uffe6]|\p{Emoji_Presentation}/gu;

/** The line with a caret below the place; of a long line, the part around it. */
function shownLine(line: string, column: number): string {
  const start = Math.max(0, column - 1 - columnsShown / 2);
  const part = line.slice(start, start + columnsShown).replace(/[\p{Cc}\p{Cf}]/gu, ' ');
  const before = part.slice(0, column - 1 - start).replace(wide, '\u3000');
  return `    ${part}\n    ${before.replace(/[^\u3000]/gu, ' ')}^`;
}
