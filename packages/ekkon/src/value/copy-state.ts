import type { Kind } from './kind.ts';
import { bytesOf, dateTime, flagsOf, regexpSource, typedName, unboxed } from './slots.ts';

/** What a value holds in the platform's slots, as a fresh value of the same kind. */
export function copyState(value: object, kind: Kind): object {
  switch (kind) {
    case 'date':
      return new Date(dateTime.call(value));
    case 'regexp': {
      const copy = new RegExp(regexpSource.call(value), flagsOf(value));
      copy.lastIndex = Object.getOwnPropertyDescriptor(value, 'lastIndex')?.value;
      return copy;
    }
    case 'boxed':
      return Object(unboxed(value));
    case 'error':
      return copyError(value);
    default:
      throw new TypeError(`${kind} holds no such state`);
  }
}

/** An error with nothing said yet; its stack is the original's, read when somebody asks for it. */
function copyError(original: object): Error {
  const limit = Error.stackTraceLimit;
  try {
    Error.stackTraceLimit = 0;
    const copy = new Error();
    Object.defineProperty(copy, 'stack', {
      get: () => Reflect.get(original, 'stack'),
      configurable: true,
    });
    return copy;
  } finally {
    Error.stackTraceLimit = limit;
  }
}

type Bytes = ArrayBuffer | DataView | Uint8Array;

/** A fresh copy of the bytes that a buffer or a view of one shows; `undefined` if they are more than `most`. */
export function copyBytes(
  value: object,
  kind: 'typed' | 'buffer' | 'view',
  most: number,
): Bytes | undefined {
  const bytes = bytesOf(value);
  if (bytes.length > most) return undefined;
  const { buffer } = new Uint8Array(bytes);
  if (kind === 'buffer') return buffer;
  if (kind === 'view') return new DataView(buffer);
  const type = typedTypes[typedName.call(value) ?? ''];
  if (type === undefined) throw new TypeError('a typed array of a type unknown here');
  return new type(buffer) as Uint8Array;
}

const typedTypes: Readonly<Record<string, new (buffer: ArrayBuffer) => unknown>> = {
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
