import fc from 'fast-check';

/** Whether anything inside a value, at any depth, is of a kind. */
export function holds(value: unknown, is: (part: unknown) => boolean): boolean {
  if (is(value)) return true;
  if (typeof value !== 'object' || value === null) return false;
  if (value instanceof Number) return is(value.valueOf());
  return partsOf(value).some((part) => holds(part, is));
}

/** The keys and values that an object holds. */
export function partsOf(value: object): readonly unknown[] {
  if (value instanceof Map) return [...value].flat();
  if (value instanceof Set) return [...value];
  return ArrayBuffer.isView(value) ? Array.from(value as Uint8Array) : Object.values(value);
}

const isInvalidDate = (value: unknown) => value instanceof Date && Number.isNaN(value.getTime());

/** Values of every kind that can be made at random; without invalid dates, which the platform calls unequal. */
export function anyValue(options: fc.ObjectConstraints = {}): fc.Arbitrary<unknown> {
  return fc
    .anything({
      withBigInt: true,
      withDate: true,
      withMap: true,
      withSet: true,
      withSparseArray: true,
      withTypedArray: true,
      withBoxedValues: true,
      ...options,
    })
    .filter((value) => !holds(value, isInvalidDate));
}
