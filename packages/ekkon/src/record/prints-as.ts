/** Marks an object as Ekkon's own, and holds the text it prints as. */
export const printsAs: unique symbol = Symbol('ekkon: prints as');

/** The prototype of Ekkon's own values: matchers, and marks in a copy. */
const ownPrototype: object = Object.freeze(Object.create(null));

/**
 * Makes a value of Ekkon's own out of its parts, which are not to be used for anything else. Copies keep it whole, comparing goes by identity
 * unless it is a matcher, and no printer looks inside.
 */
export function makeOwn<T extends { readonly [printsAs]: string }>(parts: T): Readonly<T> {
  return Object.freeze(Object.setPrototypeOf(parts, ownPrototype));
}

/** Whether `makeOwn` made the value. */
export function isOwn(value: unknown): value is { readonly [printsAs]: string } {
  return (
    typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === ownPrototype
  );
}
