import { className } from '../class-name.ts';
import { compareProperties } from '../compare-properties.ts';
import type { Comparison } from '../comparison.ts';
import { addOwn } from '../copy-properties.ts';
import { alike, type Copying, remember, tooLarge } from '../copying.ts';
import { made } from '../decoding.ts';
import { intrinsics } from '../intrinsics.ts';
import type { Json, Tagged } from '../json.ts';
import { textIn } from '../json.ts';
import type { Piece } from '../piece.ts';
import { type Printing, printItems } from '../printing.ts';
import { bytesOf, isTyped, isView, typedName } from '../slots.ts';
import type { ValueKind } from './value-kind.ts';

/** A buffer, or a view of one: a typed array, a data view. */
export const bytes: ValueKind = {
  copy: copyBytes,
  show: (_, value) => alike(value, shownAlike(value, new Uint8Array(bytesOf(value)).buffer)),
  encode: (_, value) => encodeBytes(value),
  decode: { bytes: (decoding, json) => made(decoding, decodeBytes(json)) },
  compare(comparison, expected, received) {
    if (isTyped(expected)) compareItems(comparison, expected, received as Uint8Array);
    else {
      compareItems(comparison, bytesOf(expected), bytesOf(received));
      compareProperties(comparison, expected, received);
    }
  },
  print: printBytes,
};

function copyBytes(copying: Copying, value: object): unknown {
  const held = bytesOf(value);
  if (held.length > copying.bytes) return tooLarge(value);
  copying.bytes -= held.length;
  const { buffer } = new Uint8Array(held);
  const copy = remember(copying, value, alike(value, shownAlike(value, buffer)));
  // A typed array lists each of its items among its own properties.
  return isTyped(value) ? copy : addOwn(copying, value, copy);
}

/** The way in which a value shows its bytes, over a buffer of their own. */
function shownAlike(value: object, buffer: ArrayBuffer): object {
  if (isTyped(value)) return new (typeNamed(typedName.call(value) ?? ''))(buffer);
  return isView(value) ? new DataView(buffer) : buffer;
}

type TypedArray = new (buffer: ArrayBuffer) => object;

const types: Readonly<Record<string, TypedArray>> = {
  Int8Array,
  Uint8Array,
  Uint8ClampedArray,
  Int16Array,
  Uint16Array,
  Int32Array,
  Uint32Array,
  Float32Array,
  Float64Array,
  BigInt64Array,
  BigUint64Array,
};

function typeNamed(name: string): TypedArray {
  const type = Object.hasOwn(types, name) ? types[name] : undefined;
  if (type === undefined) throw new TypeError(`bytes of a type unknown here: ${name}`);
  return type;
}

function encodeBytes(value: object): Json {
  const type = isTyped(value) ? typedName.call(value) : isView(value) ? 'DataView' : 'ArrayBuffer';
  return {
    $: 'bytes',
    type: type ?? 'Uint8Array',
    ...(className(value) === 'Buffer' ? { class: 'Buffer' } : {}),
    base64: intrinsics.btoa(
      Array.from(bytesOf(value), (byte) => intrinsics.fromCharCode(byte)).join(''),
    ),
  };
}

function decodeBytes(json: Tagged): object {
  const text = intrinsics.atob(textIn(json, 'base64'));
  const { buffer } = Uint8Array.from(text, (character) => character.charCodeAt(0));
  const type = textIn(json, 'type');
  if (type === 'ArrayBuffer') return buffer;
  if (type === 'DataView') return new DataView(buffer);
  const decoded = new (typeNamed(type))(buffer);
  return textIn(json, 'class') === 'Buffer' && intrinsics.Buffer !== undefined
    ? Object.setPrototypeOf(decoded, intrinsics.Buffer.prototype)
    : decoded;
}

/** Places that differ and are listed one by one. */
const placesListed = 20;

function compareItems(
  comparison: Comparison,
  expected: ArrayLike<unknown>,
  received: ArrayLike<unknown>,
): void {
  const length = Math.max(expected.length, received.length);
  let listed = 0;
  for (let at = 0; at < length && listed < placesListed; at++) {
    const [one, other] = [expected[at], received[at]];
    if (one === other || (Number.isNaN(one) && Number.isNaN(other))) continue;
    if (at >= received.length) comparison.missing(at, one);
    else if (at >= expected.length) comparison.surplus(at, other);
    else comparison.below(at, one, other);
    listed++;
  }
}

function printBytes(printing: Printing, value: object): Piece {
  if (isTyped(value))
    return listed(printing, `new ${className(value) ?? typedName.call(value)}`, value);
  const inner = listed(printing, 'new Uint8Array', bytesOf(value));
  const items = [{ piece: inner }];
  if (!isView(value)) return { open: '', items, close: '.buffer' };
  return {
    open: 'new DataView(',
    items: [{ piece: { open: '', items, close: '.buffer' } }],
    close: ')',
  };
}

function listed(printing: Printing, open: string, held: ArrayLike<unknown>): Piece {
  const shown = Array.from({ length: Math.min(held.length, printing.items) }, (_, at) => held[at]);
  const items = printItems(printing, shown, (item) => printing.piece(item), held.length);
  return { open: `${open}([`, items, close: '])' };
}
