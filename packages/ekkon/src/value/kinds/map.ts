import { className } from '../class-name.ts';
import { compareMaps } from '../compare-collections.ts';
import { compareProperties } from '../compare-properties.ts';
import { addOwn } from '../copy-properties.ts';
import { alike, type Copying, copyObserved, rememberCollection, tooLarge } from '../copying.ts';
import { decodeDerived, made } from '../decoding.ts';
import { madeBy } from '../encoding.ts';
import { pairsIn } from '../json.ts';
import { observedState } from '../observed-state.ts';
import { printItems } from '../printing.ts';
import { shownAs, showOwn } from '../showing.ts';
import { entriesOf } from '../slots.ts';
import type { ValueKind } from './value-kind.ts';

export const map: ValueKind = {
  copy: copyMap,
  show(showing, value) {
    const shown = shownAs(showing, value, new Map());
    for (const [key, held] of entriesOf(value)) shown.set(showing.show(key), showing.show(held));
    return showOwn(showing, value, alike(value, shown));
  },
  encode: (encoding, value) => ({
    $: 'map',
    ...madeBy(encoding, value, Map.prototype),
    entries: entriesOf(value).map(([key, held]) => [encoding.encode(key), encoding.encode(held)]),
  }),
  decode: {
    map(decoding, json) {
      const decoded = made(decoding, new Map());
      for (const [key, held] of pairsIn(json, 'entries'))
        decoded.set(decoding.decode(key), decoding.decode(held));
      return decodeDerived(decoding, decoded, json);
    },
  },
  compare: (comparison, expected, received) =>
    comparison.inside(expected, received, () => {
      compareMaps(comparison, expected, received);
      compareProperties(comparison, expected, received);
    }),
  print: (printing, value) => ({
    open: `new ${className(value) ?? 'Map'}([`,
    items: printItems(printing, entriesOf(value), ([key, held]) => ({
      open: '[',
      items: [{ piece: printing.piece(key) }, { piece: printing.piece(held) }],
      close: ']',
    })),
    close: '])',
  }),
};

// Taken at load, so a method overridden by a subclass or replaced later never runs.
const { set } = Map.prototype;

function copyMap(copying: Copying, value: object): unknown {
  const observed = observedState(value, Object.getOwnPropertySymbols(value));
  if (observed !== undefined) return copyObserved(copying, value, observed);
  const copy = rememberCollection(copying, value, alike(value, new Map()));
  for (const [key, held] of entriesOf(value)) {
    const isCut = --copying.nodes < 0;
    if (isCut) set.call(copy, tooLarge(), tooLarge());
    else set.call(copy, copying.copyAny(copying, key), copying.copyAny(copying, held));
    if (isCut) break;
  }
  return addOwn(copying, value, copy);
}
