import { madeLast } from '../decoding.ts';
import { unboxed } from '../slots.ts';
import { bySlot } from './state.ts';
import type { ValueKind } from './value-kind.ts';

/** A primitive in an object of its own: `Object('dusk')`. */
export const boxed: ValueKind = {
  ...bySlot(
    (value) => Object(unboxed(value)),
    (value) => {
      const held = unboxed(value);
      return held === 0 ? 0 : held;
    },
  ),
  encode: (encoding, value) => ({ $: 'boxed', of: encoding.encode(unboxed(value)) }),
  decode: {
    boxed: (decoding, json) =>
      madeLast(decoding, () => Object(decoding.decode(json['of'] ?? null))),
  },
  print: (printing, value) => `Object(${printing.piece(unboxed(value))})`,
};
