/** A piece of a text that is to be replaced; positions count from 0. */
export interface Edit {
  readonly from: number;
  readonly to: number;
  readonly text: string;
}

/** A text with pieces of it replaced, in whichever order they are given. They must not overlap. */
export function edited(text: string, edits: readonly Edit[]): string {
  const parts: string[] = [];
  let at = 0;
  for (const { from, to, text: put } of [...edits].sort((a, b) => a.from - b.from)) {
    parts.push(text.slice(at, from), put);
    at = to;
  }
  parts.push(text.slice(at));
  return parts.join('');
}

/** Blanks of the length of a piece of text: no line and no column behind it moves. */
export function blank(text: string): string {
  return text.replace(/[^\n]/g, ' ');
}
