/**
 * The copies that have more than one would expect: arrays with properties beside their items, as what a
 * regular expression found has, and objects with symbol keys. To look for that each time costs more
 * than to compare the rest, so that whoever makes such a copy notes it: of an instance its prototype, since
 * others of its class have the same.
 */
const withExtras = new WeakSet<object>();

export function noteExtras(copy: object, prototype: object | null): void {
  const noted = prototype === null || usual.has(prototype) ? copy : prototype;
  if (!withExtras.has(noted)) withExtras.add(noted);
}

const usual: ReadonlySet<object> = new Set([Object.prototype, Array.prototype]);

/** Whether a copied array may have properties beside its items, or a copied object symbol keys. */
export function hasExtras(copy: object): boolean {
  if (withExtras.has(copy)) return true;
  const prototype: object | null = Object.getPrototypeOf(copy);
  return prototype !== null && withExtras.has(prototype);
}
