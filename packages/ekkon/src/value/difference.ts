/** One place where a received value is not as expected. */
export interface Difference {
  /** From the outermost value inwards; a map's key or a set's place stands in it like a property. */
  readonly path: readonly PropertyKey[];
  readonly kind: 'changed' | 'missing' | 'surplus' | 'type' | 'moved' | 'renamed' | 'opaque';
  readonly expected?: unknown;
  readonly received?: unknown;
  /** For `moved` and `renamed`: the index or key under which it was expected. */
  readonly from?: PropertyKey;
  /** For `opaque`: why equality is unknown. For `changed` and `type`: the difference between values with equal content. */
  readonly why?:
    | 'hidden'
    | 'bound'
    | 'accessor'
    | 'inherited'
    | 'inner'
    | 'unread'
    | 'body'
    | 'unreadable'
    | 'failed'
    | 'answer'
    | 'unfollowed'
    | 'identity'
    | 'class'
    | 'another';
  /**
   * For `failed`, the error of the user's own code; for `answer`, its invalid result; for `unfollowed` and `body`,
   * the reason.
   */
  readonly reason?: unknown;
}

/** How far a received value is from the expected one: 0 exactly if they are equal. */
export function distanceOf(differences: readonly Difference[]): number {
  let distance = 0;
  for (const difference of differences) distance += weightOf(difference);
  return distance;
}

/** A value of another kind is further off than another value; a moved value is nearer. */
function weightOf({ kind, expected, received, why }: Difference): number {
  switch (kind) {
    case 'changed':
      if (why === 'identity') return 0.5;
      return typeof expected === 'string' && typeof received === 'string'
        ? textDistance(expected, received)
        : 1;
    case 'missing':
    case 'surplus':
      return 1;
    case 'type':
      if (why === 'class') return 0.5;
      return isObject(expected) &&
        isObject(received) &&
        Array.isArray(expected) === Array.isArray(received)
        ? 1.25
        : 2;
    case 'moved':
      return 0.75;
    case 'renamed':
      return 0.5;
    case 'opaque':
      return 1.5;
  }
}

/** From a half, where hardly anything differs, to 1, by the part of the text between the equal ends. */
function textDistance(one: string, other: string): number {
  const shorter = Math.min(one.length, other.length);
  let start = 0;
  while (start < shorter && one[start] === other[start]) start++;
  let end = 0;
  while (end < shorter - start && one[one.length - 1 - end] === other[other.length - 1 - end])
    end++;
  return 1 - (start + end) / (2 * Math.max(one.length, other.length));
}

function isObject(value: unknown): boolean {
  return typeof value === 'object' && value !== null;
}
