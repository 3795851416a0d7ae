import type { Difference } from './difference.ts';

/** Whether values agree; `undecided`: as far as it can be told they do, and part of it cannot be told. */
export type Fit = 'fits' | 'differs' | 'undecided';

/** A comparison under way, as the parts for each kind of value walk on through it. */
export interface Comparison {
  /** The place being compared, from the outermost value inwards. */
  readonly path: PropertyKey[];
  /** Whether as many differences were found as anybody asked for. */
  readonly full: boolean;
  /** How many of the differences found are certain. */
  readonly certain: number;
  /** Whether two objects were not compared yet, so cycles end. */
  isNew(expected: object, received: object): boolean;
  /** Whether only equality matters, so no difference needs a good explanation. */
  readonly asksOnlyWhether: boolean;
  /** Walks on at this place. */
  walk(expected: unknown, received: unknown): void;
  /** Walks on below a property, an index or a key. */
  below(key: PropertyKey, expected: unknown, received: unknown): void;
  /** Notes a difference at this place. */
  add(
    kind: Difference['kind'],
    expected: unknown,
    received: unknown,
    more?: Partial<Difference>,
  ): void;
  /** Notes that nothing was recorded below a key; a matcher may accept that. */
  missing(key: PropertyKey, expected: unknown): void;
  /** Notes that something was recorded below a key, and nothing expected. */
  surplus(key: PropertyKey, received: unknown): void;
  /** Notes that a value expected below one key was recorded below another. */
  moved(from: number, to: number, expected: unknown, received: unknown): void;
  /** Whether two parts are equal, without noting why not. */
  fitOf(expected: unknown, received: unknown): Fit;
  /** The object that an expected part was copied from; `undefined` for a primitive. */
  originalOf(expected: unknown): unknown;
  /** The object that a recorded part was copied from; `undefined` for a primitive. */
  sourceOf(received: unknown): unknown;
  /** Compares the contents of a collection in parts; inside these the collection itself is taken for equal. */
  inside(expected: object, received: object, compareParts: () => void): void;
  /** The copy that recording makes of a value. */
  copyOf(value: object): object;
  /** How a key or an item that is not a name stands in a path. */
  placeOf(key: unknown): PropertyKey;
}
