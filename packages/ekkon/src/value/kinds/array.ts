import { compareArrays } from '../compare-arrays.ts';
import { copyArray } from '../copy-array.ts';
import { alike } from '../copying.ts';
import { decodeDerived, decodeItems, made } from '../decoding.ts';
import { type Encoding, madeBy, ownPairs } from '../encoding.ts';
import { noteExtras } from '../extras.ts';
import { type Json, listIn } from '../json.ts';
import type { Piece } from '../piece.ts';
import { type Printing, printHeld, printItems } from '../printing.ts';
import { showOwn } from '../showing.ts';
import type { ValueKind } from './value-kind.ts';

type Items = readonly unknown[];

export const array: ValueKind = {
  copy: (copying, value) => copyArray(copying, value as Items),
  show: (showing, value) => showOwn(showing, value, alike(value, [])),
  encode: (encoding, value) => encodeArray(encoding, value as Items),
  decode: {
    array(decoding, json) {
      const items = decodeItems(decoding, made(decoding, []), listIn(json, 'items'));
      noteExtras(items, null);
      return decodeDerived(decoding, items, json);
    },
  },
  compare: (comparison, expected, received) =>
    compareArrays(comparison, expected as Items, received as Items),
  print: (printing, value) => printArray(printing, value as Items),
};

const hole: Json = { $: 'hole' };

function encodeArray(encoding: Encoding, value: Items): Json {
  const items: Json[] = [];
  for (let at = 0; at < value.length; at++)
    items.push(Object.hasOwn(value, at) ? encoding.encode(value[at]) : hole);
  // An array with only its items and its length is by far the most frequent.
  const isDense = !items.includes(hole) && Reflect.ownKeys(value).length === items.length + 1;
  const own = isDense ? [] : ownPairs(encoding, value, (key) => !isIndex(key));
  const derived = madeBy(encoding, value, Array.prototype);
  return own.length === 0 && derived.class === undefined
    ? items
    : { $: 'array', items, ...derived, own };
}

function isIndex(key: string): boolean {
  return key === 'length' || /^\d+$/.test(key);
}

function printArray(printing: Printing, value: Items): Piece {
  const places = Array.from({ length: Math.min(value.length, printing.items) }, (_, at) => at);
  const piece = (at: number) =>
    Object.hasOwn(value, at) ? printHeld(printing, value, at) : '‹hole›';
  return { open: '[', items: printItems(printing, places, piece, value.length), close: ']' };
}
