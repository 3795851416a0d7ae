import { className } from '../class-name.ts';
import { compareSets } from '../compare-collections.ts';
import { compareProperties } from '../compare-properties.ts';
import { addOwn } from '../copy-properties.ts';
import { alike, type Copying, copyObserved, rememberCollection, tooLarge } from '../copying.ts';
import { decodeDerived, made } from '../decoding.ts';
import { madeBy } from '../encoding.ts';
import { listIn } from '../json.ts';
import { observedState } from '../observed-state.ts';
import { printItems } from '../printing.ts';
import { shownAs, showOwn } from '../showing.ts';
import { itemsOf } from '../slots.ts';
import type { ValueKind } from './value-kind.ts';

export const set: ValueKind = {
  copy: copySet,
  show(showing, value) {
    const shown = shownAs(showing, value, new Set());
    for (const item of itemsOf(value)) shown.add(showing.show(item));
    return showOwn(showing, value, alike(value, shown));
  },
  encode: (encoding, value) => ({
    $: 'set',
    ...madeBy(encoding, value, Set.prototype),
    items: itemsOf(value).map((item) => encoding.encode(item)),
  }),
  decode: {
    set(decoding, json) {
      const decoded = made(decoding, new Set());
      for (const item of listIn(json, 'items')) decoded.add(decoding.decode(item));
      return decodeDerived(decoding, decoded, json);
    },
  },
  compare: (comparison, expected, received) =>
    comparison.inside(expected, received, () => {
      compareSets(comparison, expected, received);
      compareProperties(comparison, expected, received);
    }),
  print: (printing, value) => ({
    open: `new ${className(value) ?? 'Set'}([`,
    items: printItems(printing, itemsOf(value), (item) => printing.piece(item)),
    close: '])',
  }),
};

// Taken at load, so a method overridden by a subclass or replaced later never runs.
const { add } = Set.prototype;

function copySet(copying: Copying, value: object): unknown {
  const observed = observedState(value, Object.getOwnPropertySymbols(value));
  if (observed !== undefined) return copyObserved(copying, value, observed);
  const copy = rememberCollection(copying, value, alike(value, new Set()));
  for (const held of itemsOf(value)) {
    const isCut = --copying.nodes < 0;
    add.call(copy, isCut ? tooLarge() : copying.copyAny(copying, held));
    if (isCut) break;
  }
  return addOwn(copying, value, copy);
}
