/** Where the lines of a finding begin, and those that belong to one of its entries. */
export const margin = '    ';
export const entryMargin = '     ';

/** The text, cut if it is longer. */
export function clip(text: string, length: number): string {
  return text.length <= length ? text : `${text.slice(0, Math.max(1, length - 1))}…`;
}
