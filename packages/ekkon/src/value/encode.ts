import { className, nameOfClass } from './class-name.ts';
import { copyOf } from './copy.ts';
import { isGap } from './gap.ts';
import { type Kind, kindOf } from './kind.ts';
import { printsAs } from './prints-as.ts';
import {
  bytesOf,
  dateTime,
  entriesOf,
  flagsOf,
  itemsOf,
  regexpSource,
  typedName,
  unboxed,
} from './slots.ts';
import { isSnapshot, type Snapshot } from './snapshot.ts';
import { tiedTo } from './tie.ts';

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
      return doubleIn(value as object) ?? { $: 'shown', as: encoding.show(value) };
    default:
      return null;
  }
}

/** A double, or a member of one, by what it prints as: told from all others of its ledger by that. */
function doubleIn(value: object): Json | undefined {
  if (tiedTo(value) === undefined) return undefined;
  const as = (value as { readonly [printsAs]?: unknown })[printsAs];
  return typeof as === 'string' ? { $: 'double', as } : undefined;
}

function printNumber(value: number): string {
  return Object.is(value, -0) ? '-0' : String(value);
}

function encodeObject(encoding: Encoding, value: object): Json {
  if (isGap(value)) return { $: 'gap', why: value.gap, as: value[printsAs] };
  const double = doubleIn(value);
  if (double !== undefined) return double;
  const kind = kindOf(value);
  if (kind === 'platform') return encodeObject(encoding, copyOf(value));
  const isShown = kind === 'hidden' || kind === 'thing' || (kind === 'kept' && !isSnapshot(value));
  if (isShown) return { $: 'shown', as: encoding.show(value) };
  const known = encoding.seen.get(value);
  if (known !== undefined) return { $: 'same', as: known };
  encoding.seen.set(value, encoding.seen.size);
  if (isSnapshot(value)) return encodeSnapshot(encoding, value);
  return encodeContent(encoding, value, kind);
}

/** An object of the platform by what it showed; of one that is remade from a text, the text. */
function encodeSnapshot(encoding: Encoding, value: Snapshot): Json {
  const { of, type, state, unseen, content } = value;
  if (type === undefined) return { $: 'shown', as: encoding.show(value) };
  if (type === 'URL') return { $: 'url', of: String(state) };
  if (type === 'URLSearchParams') return { $: 'params', of: String(state) };
  return {
    $: 'platform',
    class: classNamed(of),
    type,
    own: ownPairs(encoding, content, () => true),
    ...(unseen === undefined ? {} : { unseen }),
  };
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
      const made = madeBy(encoding, value, Array.prototype);
      return own.length === 0 && made.class === undefined
        ? items
        : { $: 'array', items, ...made, own };
    }
    case 'map': {
      const entries = entriesOf(value);
      return {
        $: 'map',
        ...madeBy(encoding, value, Map.prototype),
        entries: entries.map(([key, held]) => [
          encodeAny(encoding, key),
          encodeAny(encoding, held),
        ]),
      };
    }
    case 'set':
      return {
        $: 'set',
        ...madeBy(encoding, value, Set.prototype),
        items: itemsOf(value).map((item) => encodeAny(encoding, item)),
      };
    case 'date': {
      const time = dateTime.call(value);
      const made = madeBy(encoding, value, Date.prototype);
      return { $: 'date', at: Number.isNaN(time) ? null : time, ...made };
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
        ...(className(value) === 'Buffer' ? { class: 'Buffer' } : {}),
        base64: btoa(Array.from(bytesOf(value), (byte) => String.fromCharCode(byte)).join('')),
      };
    }
    case 'boxed':
      return { $: 'boxed', of: encodeAny(encoding, unboxed(value)) };
    case 'error':
    case 'instance':
      return { $: kind, class: classNamed(value), own: ownPairs(encoding, value, () => true) };
    case 'hidden':
    case 'platform':
    case 'thing':
    case 'kept':
      return { $: 'shown', as: encoding.show(value) };
  }
}

/** The class of a value of the platform's that is derived from it, and its own properties, if it has any. */
function madeBy(
  encoding: Encoding,
  value: object,
  prototype: object,
): { readonly class?: string; readonly own?: Json } {
  const own = Array.isArray(value) ? [] : ownPairs(encoding, value, () => true);
  const isDerived = Object.getPrototypeOf(value) !== prototype;
  const name = classNamed(value);
  return {
    ...(isDerived && name !== (nameOfClass(prototype) ?? 'Object') ? { class: name } : {}),
    ...(own.length > 0 ? { own } : {}),
  };
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

/** The class that a value is written with. */
function classNamed(value: object): string {
  return className(value) ?? 'Object';
}
