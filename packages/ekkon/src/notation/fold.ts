import type { Piece } from '../value/piece.ts';

/**
 * Lays a piece out: on one line if that ends before `width`, else an item a line, two columns further in.
 *
 * @param indent columns that every line but the first is set in
 */
export function fold(piece: Piece, width: number, indent: number): string {
  const line = flat(piece, width);
  if (typeof piece === 'string' || (line !== undefined && indent + line.length <= width))
    return line ?? '';
  const inner = indent + 2;
  const margin = ' '.repeat(inner);
  const lines = piece.items.map(
    ({ label = '', piece: item }) => `${margin}${label}${fold(item, width - label.length, inner)},`,
  );
  return [piece.open, ...lines, `${' '.repeat(indent)}${piece.close}`].join('\n');
}

/** The piece on one line; `undefined` as soon as that is longer than anybody would print. */
function flat(piece: Piece, width: number): string | undefined {
  if (typeof piece === 'string') return piece;
  const items: string[] = [];
  let length = piece.open.length + piece.close.length;
  for (const { label = '', piece: item } of piece.items) {
    const text = flat(item, width);
    if (text === undefined) return undefined;
    items.push(label + text);
    length += label.length + text.length + 2;
    if (length > width + 4) return undefined;
  }
  const space = piece.spaced === true && items.length > 0 ? ' ' : '';
  return `${piece.open}${space}${items.join(', ')}${space}${piece.close}`;
}
