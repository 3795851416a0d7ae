import { printsAs } from '../value/prints-as.ts';

/** Prints an object of Ekkon's by its name. */
export function show(this: { readonly [printsAs]?: string }): string {
  return this[printsAs] ?? '[stand-in]';
}

/** The method that Node calls on an object to print it. */
export const inspected = Symbol.for('nodejs.util.inspect.custom');

/** How such an object is shown, unless the program defines another way. */
export const shown = { value: show, writable: true, configurable: true };

/** Shared by stand-ins and streams besides their members: they print as themselves wherever they are shown. */
export const shownBase: object = Object.create(Object.prototype, {
  toString: shown,
  toLocaleString: shown,
  // The one way in which JSON, and a runner's comparison of texts, can be told a name.
  toJSON: shown,
  [inspected]: shown,
});
