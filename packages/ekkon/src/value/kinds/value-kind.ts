import type { Comparison } from '../comparison.ts';
import type { Copying } from '../copying.ts';
import type { Decoding } from '../decoding.ts';
import type { Encoding } from '../encoding.ts';
import type { Json, Tagged } from '../json.ts';
import type { Piece } from '../piece.ts';
import type { Printing } from '../printing.ts';
import type { Showing } from '../showing.ts';

/** All that Ekkon has to know of the objects of one kind. */
export interface ValueKind {
  /** The object as it is now, for the record. Runs none of its code. */
  copy(copying: Copying, value: object): unknown;
  /** A recorded object for somebody else's code, such that nothing done to it is done to the record. */
  show(showing: Showing, value: object): unknown;
  encode(encoding: Encoding, value: object): Json;
  /** How it is read, by the `$` that it is written with. */
  readonly decode?: { readonly [tag: string]: (decoding: Decoding, json: Tagged) => unknown };
  /** Notes where a recorded object is not as expected; both are of this kind, and of one class. */
  compare(comparison: Comparison, expected: object, received: object): void;
  print(printing: Printing, value: object): Piece;
}
