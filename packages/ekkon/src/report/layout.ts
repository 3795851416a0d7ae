import type { Entry } from '../record/entry.ts';
import type { Difference } from '../value/difference.ts';
import type { Paint } from './paint.ts';

/** What the lines of a report are laid out for. */
export interface Layout {
  /** Columns. */
  readonly width: number;
  readonly paint: Paint;
  /** What draws by itself, instead of lines: a page has lanes and trees of its own. */
  readonly picture?: Picture;
}

/** Takes what lines would draw, and gives the lines that stand in their place. */
export interface Picture {
  lanes(
    entries: readonly Omit<Entry, 'liveArgs'>[],
    notes: ReadonlyMap<string, string>,
  ): readonly string[];
  differences(differences: readonly Difference[]): readonly string[];
  changes(changes: readonly Difference[]): readonly string[];
}

/** Where the lines of a finding begin, and those that belong to one of its entries. */
export const margin = '    ';
export const entryMargin = '     ';

/** The text, cut if it is longer. */
export function clip(text: string, length: number): string {
  return text.length <= length ? text : `${text.slice(0, Math.max(1, length - 1))}…`;
}

/** A line that counts what was left out, if anything was. */
export function leftOut(
  number: number,
  [one, many]: readonly [string, string],
  { paint }: Layout,
): readonly string[] {
  return number > 0 ? [paint('faint', `… ${number} more ${number === 1 ? one : many}`)] : [];
}
