/**
 * The copies that have more than one would expect: arrays with properties beside their items, as what a
 * regular expression found has, and objects with symbol keys. To look for that each time costs more
 * than to compare the rest, so that whoever makes such a copy notes it.
 */
const withExtras = new WeakSet<object>();

export function noteExtras(copy: object): void {
  withExtras.add(copy);
}

/** Whether a copied array has properties beside its items, or a copied object symbol keys. */
export function hasExtras(copy: object): boolean {
  return withExtras.has(copy);
}
