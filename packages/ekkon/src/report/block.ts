import type { Entry } from '../record/entry.ts';
import type { Difference } from '../value/difference.ts';
import type { Paint, Role } from './paint.ts';

/** A part of a line that is more than plain text: a terminal and a page color it by its role. */
export interface Piece {
  readonly text: string;
  readonly role: Role;
}

/** A line of a report, without its margin. */
export type Line = string | readonly (string | Piece)[];

/** Notes beside events in the lanes, by `noteKey`. */
export type Notes = ReadonlyMap<string, string>;

/**
 * The content below a finding's claim, from top to bottom. Text draws all of it as lines; a page has its own lanes
 * and trees.
 */
export type Block =
  | Line
  | {
      readonly is: 'lanes';
      readonly entries: readonly Omit<Entry, 'liveArgs'>[];
      readonly notes: Notes;
    }
  | {
      readonly is: 'differences';
      readonly differences: readonly Difference[];
      /** How many text lists before it counts the rest. */
      readonly most: number;
    }
  | { readonly is: 'changes'; readonly changes: readonly Difference[] };

export function piece(role: Role, text: string): Piece {
  return { role, text };
}

export function faint(text: string): Piece {
  return piece('faint', text);
}

export function piecesOf(line: Line): readonly (string | Piece)[] {
  return typeof line === 'string' ? [line] : line;
}

/** A line as text, colored by the caller. */
export function drawLine(line: Line, paint: Paint): string {
  return piecesOf(line)
    .map((part) => (typeof part === 'string' ? part : paint(part.role, part.text)))
    .join('');
}

/** A line as text, without color. */
export function textOf(line: Line): string {
  return drawLine(line, (_, text) => text);
}

export function indented(line: Line, margin: string): Line {
  return [margin, ...piecesOf(line)];
}

/** Several lines as one, with a gap between them. */
export function besideEachOther(lines: readonly Line[]): Line {
  return lines.flatMap((line, at) => (at === 0 ? piecesOf(line) : ['   ', ...piecesOf(line)]));
}

/**
 * A line with the number of omitted items, if there are any.
 *
 * @param least `at least ` if there may be more
 */
export function leftOut(
  number: number,
  [one, many]: readonly [string, string],
  least = '',
): readonly Line[] {
  return number > 0 ? [[faint(`… ${least}${number} more ${number === 1 ? one : many}`)]] : [];
}
