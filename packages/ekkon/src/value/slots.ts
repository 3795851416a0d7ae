import { intrinsics } from './intrinsics.ts';

/**
 * The platform's own readers of internal slots, taken once, so neither a subclass nor a later replacement affects the
 * content of a value. Each throws if the slot does not exist.
 */
type Read<R> = (this: object) => R;

function getter<R>(prototype: object, key: PropertyKey): Read<R> {
  const found = Object.getOwnPropertyDescriptor(prototype, key)?.get;
  if (found === undefined) throw new TypeError(`this platform has no ${String(key)} to ask for`);
  return found;
}

const typedArrayPrototype: object = Object.getPrototypeOf(Uint8Array.prototype);

export const mapSize: Read<number> = getter(Map.prototype, 'size');
export const setSize: Read<number> = getter(Set.prototype, 'size');
export const dateTime: Read<number> = Date.prototype.getTime as Read<number>;
export const regexpSource: Read<string> = getter(RegExp.prototype, 'source');
export const regexpGlobal: Read<boolean> = getter(RegExp.prototype, 'global');
export const bufferSize: Read<number> = getter(ArrayBuffer.prototype, 'byteLength');

/** The name of a typed array's type, `undefined` for anything else. Does not throw. */
export const typedName: Read<string | undefined> = getter(typedArrayPrototype, Symbol.toStringTag);

/** Whether a value is a typed array. */
export function isTyped(value: object): value is Uint8Array {
  return typedName.call(value) !== undefined;
}

/** Whether a value shows the bytes of a buffer: a typed array, or a data view. */
export const isView: (value: unknown) => value is ArrayBufferView = ArrayBuffer.isView;

const { toISOString } = Date.prototype;

/** A time in milliseconds, as a date writes it. */
export function printTime(time: number): string {
  return toISOString.call(new intrinsics.Date(time));
}

const typedParts = {
  buffer: getter<ArrayBufferLike>(typedArrayPrototype, 'buffer'),
  byteOffset: getter<number>(typedArrayPrototype, 'byteOffset'),
  byteLength: getter<number>(typedArrayPrototype, 'byteLength'),
};
const viewParts = {
  buffer: getter<ArrayBufferLike>(DataView.prototype, 'buffer'),
  byteOffset: getter<number>(DataView.prototype, 'byteOffset'),
  byteLength: getter<number>(DataView.prototype, 'byteLength'),
};

/** The bytes that a buffer, a typed array or a data view shows: not copied. */
export function bytesOf(value: object): Uint8Array {
  const parts = typedName.call(value) === undefined ? viewParts : typedParts;
  const size = isView(value) ? parts.byteLength : bufferSize;
  // A detached buffer shows nothing, and refuses to be viewed.
  if (size.call(value) === 0) return new Uint8Array();
  if (!isView(value)) return new Uint8Array(value as ArrayBufferLike);
  return new Uint8Array(
    parts.buffer.call(value),
    parts.byteOffset.call(value),
    parts.byteLength.call(value),
  );
}

const regexpFlags: readonly (readonly [string, Read<boolean>])[] = (
  [
    ['d', 'hasIndices'],
    ['g', 'global'],
    ['i', 'ignoreCase'],
    ['m', 'multiline'],
    ['s', 'dotAll'],
    ['u', 'unicode'],
    ['v', 'unicodeSets'],
    ['y', 'sticky'],
  ] as const
)
  .filter(([, name]) => name in RegExp.prototype)
  .map(([flag, name]) => [flag, getter<boolean>(RegExp.prototype, name)]);

/** A regular expression's flags in the usual order. */
export function flagsOf(value: object): string {
  return regexpFlags
    .filter(([, read]) => read.call(value))
    .map(([flag]) => flag)
    .join('');
}

/** One for each kind of boxed primitive; each throws if the value is no such box. */
export const boxReaders: readonly Read<unknown>[] = [
  String.prototype.valueOf as Read<unknown>,
  Number.prototype.valueOf as Read<unknown>,
  Boolean.prototype.valueOf as Read<unknown>,
  BigInt.prototype.valueOf as Read<unknown>,
  Symbol.prototype.valueOf as Read<unknown>,
];

/** The primitive inside a boxed one. */
export function unboxed(value: object): unknown {
  for (const read of boxReaders) {
    try {
      return read.call(value);
    } catch {
      // Another kind of box.
    }
  }
  throw new TypeError('not a boxed primitive');
}

const forEachEntry: (this: object, each: (value: unknown, key: unknown) => void) => void =
  Map.prototype.forEach;
const forEachItem: (this: object, each: (value: unknown) => void) => void = Set.prototype.forEach;

/** A map's entries, though a subclass may iterate otherwise. */
export function entriesOf(map: object): readonly (readonly [unknown, unknown])[] {
  const entries: (readonly [unknown, unknown])[] = [];
  forEachEntry.call(map, (value, key) => entries.push([key, value]));
  return entries;
}

/** A set's items, though a subclass may iterate otherwise. */
export function itemsOf(set: object): readonly unknown[] {
  const items: unknown[] = [];
  forEachItem.call(set, (item) => items.push(item));
  return items;
}
