import { className } from '../class-name.ts';
import { compareSeen } from '../compare-seen.ts';
import { copyPlatform } from '../copy-instance.ts';
import { classNamed, decodeOwn, made, madeLast } from '../decoding.ts';
import { classOf, type Encoding, ownPairs } from '../encoding.ts';
import { intrinsics } from '../intrinsics.ts';
import { type Json, pairsIn, textIn } from '../json.ts';
import type { Piece } from '../piece.ts';
import { classCalled } from '../platform/table.ts';
import { type Printing, printProperties, quoted } from '../printing.ts';
import { listedKeys } from '../prototype-chain.ts';
import { isSnapshot, Snapshot } from '../snapshot.ts';
import { printThing } from './thing.ts';
import type { ValueKind } from './value-kind.ts';

/** An instance of a platform class, by its visible state. */
export const platform: ValueKind = {
  copy: copyPlatform,
  show: (_, value) => value,
  encode: (encoding, value) => encodeSnapshot(encoding, encoding.copyOf(value)),
  decode: {
    url: (decoding, json) => made(decoding, new intrinsics.URL(textIn(json, 'of'))),
    params: (decoding, json) => made(decoding, new intrinsics.URLSearchParams(textIn(json, 'of'))),
    platform: (decoding, json) =>
      madeLast(decoding, () => {
        const of: object = Object.create(classNamed(decoding, textIn(json, 'class'), Object));
        const content = decodeOwn(decoding, {}, pairsIn(json, 'own'));
        const type = textIn(json, 'type');
        const unseen = json['unseen'] === undefined ? undefined : textIn(json, 'unseen');
        return new Snapshot(of, content, { type, unseen, print: classCalled(type)?.print });
      }),
  },
  compare: compareSeen,
  print(printing, value) {
    const seen = printing.copyOf(value);
    return isSnapshot(seen) ? printSnapshot(printing, seen) : printThing(value);
  },
};

/** The recorded state of a platform object; for one that is remade from a text, the text. */
export function encodeSnapshot(encoding: Encoding, value: unknown): Json {
  if (!isSnapshot(value) || value.type === undefined) return encoding.shown(value);
  const { of, type, state, unseen, content } = value;
  if (type === 'URL') return { $: 'url', of: String(state) };
  if (type === 'URLSearchParams') return { $: 'params', of: String(state) };
  return {
    $: 'platform',
    class: classOf(of),
    type,
    own: ownPairs(encoding, content),
    ...(unseen === undefined ? {} : { unseen }),
  };
}

export function printSnapshot(printing: Printing, snapshot: Snapshot): Piece {
  const { of, content, print, state, type } = snapshot;
  if (type === undefined) return printThing(of);
  const quote = (text: unknown) => quoted(String(text), printing.text);
  if (print !== undefined) return print(content, quote, state);
  // Properties that hold a default are left out.
  const told = listedKeys(content).filter((key) => !isUnsaid(content[key]));
  return printProperties(printing, content, className(of) ?? type, told);
}

function isUnsaid(value: unknown): boolean {
  return value === null || value === undefined || value === false || value === '' || value === 0;
}
