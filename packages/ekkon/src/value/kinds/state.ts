import { compareProperties } from '../compare-properties.ts';
import type { Comparison } from '../comparison.ts';
import { addOwn } from '../copy-properties.ts';
import { alike, type Copying, remember } from '../copying.ts';
import { type Showing, showOwn } from '../showing.ts';

/**
 * How values are treated whose slot holds one primitive, or a few: copied by making another one of that, compared by
 * it and then by own properties.
 *
 * @param make another value that holds the same
 * @param stateOf one primitive that says all that a value's slot holds
 */
export function bySlot(make: (value: object) => object, stateOf: (value: object) => unknown) {
  return {
    copy: (copying: Copying, value: object) =>
      addOwn(copying, value, remember(copying, value, alike(value, make(value)))),
    show: (showing: Showing, value: object) => showOwn(showing, value, alike(value, make(value))),
    compare(comparison: Comparison, expected: object, received: object) {
      if (Object.is(stateOf(expected), stateOf(received)))
        compareProperties(comparison, expected, received);
      else comparison.add('changed', expected, received);
    },
  };
}
