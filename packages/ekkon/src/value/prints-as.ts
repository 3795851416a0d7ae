/**
 * Marks an object as Ekkon's own, and holds its printed form. All loaded copies of Ekkon share it, so each recognizes
 * objects of another, if only to say so.
 */
export const printsAs: unique symbol = Symbol.for('ekkon: prints as') as never;

const ofEkkon: unique symbol = Symbol.for('ekkon: own value') as never;

/** The prototype of Ekkon's own values: matchers, and marks in a copy. */
const ownPrototype: object = Object.freeze(
  Object.create(null, { [ofEkkon]: { value: true } } satisfies PropertyDescriptorMap),
);

/**
 * Makes a value of Ekkon's own out of its parts, which are not to be used for anything else. Copies keep it whole, comparing goes by identity
 * unless it is a matcher, and no printer looks inside.
 */
export function makeOwn<T extends { readonly [printsAs]: string }>(parts: T): Readonly<T> {
  return Object.freeze(Object.setPrototypeOf(parts, ownPrototype));
}

/** The prototypes of those that print as they are asked to. */
const printing = new WeakSet<object>();

/**
 * Gives a way to make values of Ekkon's own that print when they are asked to, from their parts. An accessor
 * in each value would do the same, and give each a hidden class of its own, which makes all who read them
 * slow.
 *
 * @param also further properties that give the print, each in its own way; claims have it as `notation`, in full
 */
export function ownPrinting<T extends object>(
  print: (parts: T) => string,
  also: Readonly<Record<string, (print: () => string) => string>> = {},
): (parts: T) => Readonly<T> & { readonly [printsAs]: string } {
  const printed = (how: (print: () => string) => string) => ({
    get(this: T) {
      return how(() => print(this));
    },
  });
  const ways = Object.entries(also).map(([name, how]) => [name, printed(how)] as const);
  const members = { [printsAs]: printed((run) => run()), ...Object.fromEntries(ways) };
  const prototype: object = Object.freeze(Object.create(ownPrototype, members));
  printing.add(prototype);
  return (parts) => Object.freeze(Object.setPrototypeOf(parts, prototype));
}

/** Makes the instances of a class Ekkon's own values; the class has their printed form. */
export function areOwn(type: { readonly prototype: { readonly [printsAs]: string } }): void {
  printing.add(type.prototype);
}

/**
 * Whether a value is Ekkon's own, but made by another copy of Ekkon: by another version, or by one that a bundler
 * copied. To this one it says nothing.
 */
export function isOfOtherCopy(value: object): boolean {
  if (isOwn(value)) return false;
  const prototype: object | null = Object.getPrototypeOf(value);
  // Those that print when they are asked to have a prototype of their own in between.
  return (
    isOwnPrototype(prototype) ||
    (prototype !== null && isOwnPrototype(Object.getPrototypeOf(prototype)))
  );
}

/** Whether a prototype is that of own values, of this copy of Ekkon or of another. */
function isOwnPrototype(prototype: object | null): boolean {
  return prototype !== null && prototype !== Object.prototype && Object.hasOwn(prototype, ofEkkon);
}

/** Whether a value is Ekkon's own. */
export function isOwn(value: unknown): value is { readonly [printsAs]: string } {
  if (typeof value !== 'object' || value === null) return false;
  const prototype: object | null = Object.getPrototypeOf(value);
  if (prototype === ownPrototype) return true;
  if (prototype === null || prototype === Object.prototype || prototype === Array.prototype)
    return false;
  return printing.has(prototype);
}
