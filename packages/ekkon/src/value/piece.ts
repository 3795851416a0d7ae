/** A printed value that can still be folded: a text, or items between two brackets. */
export type Piece = string | Group;

export interface Group {
  readonly open: string;
  readonly items: readonly Item[];
  readonly close: string;
  /** Whether a space stands inside the brackets on one line: `{ a: 1 }`, `[1]`. */
  readonly spaced?: boolean;
}

export interface Item {
  readonly label?: string;
  readonly piece: Piece;
}
