import { made } from '../decoding.ts';
import { textIn } from '../json.ts';
import { flagsOf, regexpSource } from '../slots.ts';
import { bySlot } from './state.ts';
import type { ValueKind } from './value-kind.ts';

/** A regular expression: its source, its flags, and where it goes on. */
export const regexp: ValueKind = {
  ...bySlot(
    (value) => {
      const copy = new RegExp(regexpSource.call(value), flagsOf(value));
      copy.lastIndex = lastIndexOf(value);
      return copy;
    },
    (value) => `/${regexpSource.call(value)}/${flagsOf(value)} from ${lastIndexOf(value)}`,
  ),
  encode: (_, value) => ({
    $: 'regexp',
    of: regexpSource.call(value),
    flags: flagsOf(value),
    last: lastIndexOf(value),
  }),
  decode: {
    regexp(decoding, json) {
      const decoded = made(decoding, new RegExp(textIn(json, 'of'), textIn(json, 'flags')));
      decoded.lastIndex = Number(json['last'] ?? 0);
      return decoded;
    },
  },
  print: (_, value) => `/${regexpSource.call(value)}/${flagsOf(value)}`,
};

function lastIndexOf(value: object): number {
  return Object.getOwnPropertyDescriptor(value, 'lastIndex')?.value;
}
