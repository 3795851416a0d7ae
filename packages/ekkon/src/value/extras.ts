/**
 * The copies with extra properties: arrays with named properties, such as the result of a regular expression, and
 * objects with symbol keys. Searching for these each time costs more than the rest of a comparison, so the maker of
 * such a copy notes it; for an instance it notes the prototype, because others of its class have the same.
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
