import { isGap } from './gap.ts';
import { type Kind, kindOf } from './kind.ts';
import { printsAs } from './prints-as.ts';
import {
  bytesOf,
  dateTime,
  entriesOf,
  flagsOf,
  itemsOf,
  paramsText,
  regexpSource,
  typedName,
  unboxed,
  urlHref,
} from './slots.ts';

/**
 * Recorded values as JSON. What JSON has stands as it is; everything else is an object whose `$` says
 * what it is. An object that stands in a value twice is `{"$":"same","as":n}` the second time, where n
 * counts the value's objects from 0 in the order in which they begin.
 */
export type Json =
  | null
  | boolean
  | number
  | string
  | readonly Json[]
  | { readonly [key: string]: Json };

/** What a value that cannot be carried is shown as: functions, and objects that hide their state. */
export type ShowValue = (value: unknown) => string;

/** Turns one recorded value into JSON. */
export function encode(value: unknown, show: ShowValue): Json {
  return encodeAny({ show, seen: new Map() }, value);
}

interface Encoding {
  readonly show: ShowValue;
  readonly seen: Map<object, number>;
}

function encodeAny(encoding: Encoding, value: unknown): Json {
  if (typeof value === 'object' && value !== null) return encodeObject(encoding, value);
  switch (typeof value) {
    case 'string':
    case 'boolean':
      return value;
    case 'number':
      return Number.isFinite(value) && !Object.is(value, -0)
        ? value
        : { $: 'number', of: printNumber(value) };
    case 'bigint':
      return { $: 'bigint', of: String(value) };
    case 'undefined':
      return { $: 'undefined' };
    case 'symbol': {
      const shared = Symbol.keyFor(value);
      return shared === undefined
        ? { $: 'symbol', of: value.description ?? '' }
        : { $: 'symbol', for: shared };
    }
    case 'function':
      return { $: 'shown', as: encoding.show(value) };
    default:
      return null;
  }
}

function printNumber(value: number): string {
  return Object.is(value, -0) ? '-0' : String(value);
}

function encodeObject(encoding: Encoding, value: object): Json {
  if (isGap(value)) return { $: 'gap', why: value.gap, as: value[printsAs] };
  const kind = kindOf(value);
  if (kind === 'hidden' || kind === 'kept') return { $: 'shown', as: encoding.show(value) };
  const known = encoding.seen.get(value);
  if (known !== undefined) return { $: 'same', as: known };
  encoding.seen.set(value, encoding.seen.size);
  return encodeContent(encoding, value, kind);
}

function encodeContent(encoding: Encoding, value: object, kind: Kind): Json {
  switch (kind) {
    case 'plain':
      return encodePlain(encoding, value);
    case 'array': {
      const items = Array.from({ length: (value as readonly unknown[]).length }, (_, at) =>
        Object.hasOwn(value, at)
          ? encodeAny(encoding, (value as readonly unknown[])[at])
          : { $: 'hole' },
      );
      const own = ownPairs(encoding, value, (key) => !isIndex(key));
      return own.length === 0 ? items : { $: 'array', items, own };
    }
    case 'map': {
      const entries = entriesOf(value);
      return {
        $: 'map',
        entries: entries.map(([key, held]) => [
          encodeAny(encoding, key),
          encodeAny(encoding, held),
        ]),
      };
    }
    case 'set':
      return {
        $: 'set',
        items: itemsOf(value).map((item) => encodeAny(encoding, item)),
      };
    case 'date': {
      const time = dateTime.call(value);
      return { $: 'date', at: Number.isNaN(time) ? null : time };
    }
    case 'regexp':
      return {
        $: 'regexp',
        of: regexpSource.call(value),
        flags: flagsOf(value),
        last: (value as RegExp).lastIndex,
      };
    case 'typed':
    case 'buffer':
    case 'view': {
      const type =
        kind === 'typed'
          ? (typedName.call(value) ?? 'Uint8Array')
          : kind === 'buffer'
            ? 'ArrayBuffer'
            : 'DataView';
      return {
        $: 'bytes',
        type,
        base64: btoa(Array.from(bytesOf(value), (byte) => String.fromCharCode(byte)).join('')),
      };
    }
    case 'boxed':
      return { $: 'boxed', of: encodeAny(encoding, unboxed(value)) };
    case 'url':
      return { $: 'url', of: urlHref.call(value) };
    case 'params':
      return { $: 'params', of: paramsText.call(value) };
    case 'error':
    case 'instance':
      return { $: kind, class: nameOfClass(value), own: ownPairs(encoding, value, () => true) };
    case 'hidden':
    case 'kept':
      return { $: 'shown', as: encoding.show(value) };
  }
}

function encodePlain(encoding: Encoding, value: object): Json {
  const keys = Reflect.ownKeys(value);
  const bare = Object.getPrototypeOf(value) === null;
  if (bare || keys.some((key) => typeof key === 'symbol' || key === '$' || key === '__proto__')) {
    return { $: bare ? 'bare' : 'object', own: ownPairs(encoding, value, () => true) };
  }
  return Object.fromEntries(ownPairs(encoding, value, () => true)) as {
    readonly [key: string]: Json;
  };
}

function ownPairs(
  encoding: Encoding,
  value: object,
  wanted: (key: string) => boolean,
): readonly (readonly [Json, Json])[] {
  return Reflect.ownKeys(value)
    .filter((key) => typeof key === 'symbol' || wanted(key))
    .map((key) => [
      encodeAny(encoding, key),
      encodeAny(encoding, (value as Readonly<Record<PropertyKey, unknown>>)[key]),
    ]);
}

function isIndex(key: string): boolean {
  return key === 'length' || /^\d+$/.test(key);
}

function nameOfClass(value: object): string {
  const made: unknown = Object.getPrototypeOf(value)?.constructor;
  return typeof made === 'function' && made.name !== '' ? made.name : 'Object';
}
