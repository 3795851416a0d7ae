import { printsAs } from '../value/prints-as.ts';

/** What prints an object of Ekkon's by the name it has. */
export function show(this: { readonly [printsAs]?: string }): string {
  return this[printsAs] ?? '[stand-in]';
}

/** What Node asks an object for that it prints. */
export const inspected = Symbol.for('nodejs.util.inspect.custom');

/** How such an object is shown, until the program gives it a way of its own. */
export const shown = { value: show, writable: true, configurable: true };

/** What stand-ins and streams have beside their members: they print as themselves wherever they are shown. */
export const shownBase: object = Object.create(Object.prototype, {
  toString: shown,
  toLocaleString: shown,
  // The one way in which JSON, and a runner's comparison of texts, can be told a name.
  toJSON: shown,
  [inspected]: shown,
});
