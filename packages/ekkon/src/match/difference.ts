/** One place where a recorded value is not as claimed. */
export interface Difference {
  /** From the outermost value inwards; a map's key or a set's place stands in it like a property. */
  readonly path: readonly PropertyKey[];
  readonly kind: 'changed' | 'missing' | 'surplus' | 'type' | 'moved' | 'renamed' | 'opaque';
  readonly claimed?: unknown;
  readonly recorded?: unknown;
  /** For `moved` and `renamed`: the index or key under which it was claimed. */
  readonly from?: PropertyKey;
  /** For `opaque`: why it cannot be told whether they are equal. For `changed`: what sets equal values apart. */
  readonly why?: 'hidden' | 'bound' | 'accessor' | 'unreadable' | 'failed' | 'identity';
  /** For `failed`: what the user's own code threw, or gave instead of an answer. */
  readonly reason?: unknown;
}

/** How far a recorded value is from the claimed one: 0 exactly where they are equal. */
export function distanceOf(differences: readonly Difference[]): number {
  let distance = 0;
  for (const { kind } of differences) distance += weights[kind];
  return distance;
}

/** A value of another type is further off than another value; what only stands elsewhere is nearer. */
const weights: Readonly<Record<Difference['kind'], number>> = {
  changed: 1,
  missing: 1,
  surplus: 1,
  type: 1.5,
  moved: 0.75,
  renamed: 0.5,
  opaque: 1,
};
