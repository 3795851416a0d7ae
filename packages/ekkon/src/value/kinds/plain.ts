import { compareProperties } from '../compare-properties.ts';
import { copyProperties } from '../copy-properties.ts';
import { decodeOwn, made } from '../decoding.ts';
import { type Encoding, ownPairs } from '../encoding.ts';
import { type Json, pairsIn, type Tagged } from '../json.ts';
import { printProperties } from '../printing.ts';
import { listedKeys } from '../prototype-chain.ts';
import { showOwn } from '../showing.ts';
import type { ValueKind } from './value-kind.ts';

/** An object that a literal makes, or one without a prototype. */
export const plain: ValueKind = {
  copy: copyProperties,
  show: (showing, value) => showOwn(showing, value, Object.create(Object.getPrototypeOf(value))),
  encode: encodePlain,
  decode: {
    object: (decoding, json) => decodeOwn(decoding, made(decoding, {}), pairsIn(json, 'own')),
    bare: (decoding, json) =>
      decodeOwn(decoding, made(decoding, Object.create(null)), pairsIn(json, 'own')),
  },
  compare: compareProperties,
  print: (printing, value) => printProperties(printing, value, undefined, listedKeys(value)),
};

function encodePlain(encoding: Encoding, value: object): Json {
  const isBare = Object.getPrototypeOf(value) === null;
  const own = ownPairs(encoding, value);
  const isOdd = Reflect.ownKeys(value).some(
    (key) => typeof key === 'symbol' || key === '$' || key === '__proto__',
  );
  if (isBare || isOdd) return { $: isBare ? 'bare' : 'object', own };
  return Object.fromEntries(own) as Tagged;
}
