import { printsAs } from '../value/prints-as.ts';

/** What prints an object of Ekkon's by the name it has. */
export function show(this: { readonly [printsAs]?: string }): string {
  return this[printsAs] ?? '[stand-in]';
}

/** What Node asks an object for that it prints. */
export const inspected = Symbol.for('nodejs.util.inspect.custom');

/** What stand-ins and streams have beside their members: they print as themselves wherever they are shown. */
export const shownBase: object = Object.create(Object.prototype, {
  toString: { value: show },
  toLocaleString: { value: show },
  // The one way in which JSON, and a runner's comparison of texts, can be told a name.
  toJSON: { value: show },
  [inspected]: { value: show },
});
