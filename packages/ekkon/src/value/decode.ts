import type { Json } from './encode.ts';
import { noteExtras } from './extras.ts';
import { type GapReason, makeGap } from './gap.ts';
import { classCalled } from './platform/table.ts';
import { makeOwn, printsAs } from './prints-as.ts';
import { Snapshot } from './snapshot.ts';

/**
 * Makes a reader of encoded values. Classes are told apart by name: values of the same class share a
 * prototype within one reader.
 *
 * @throws TypeError at a tag it does not know
 */
export function makeDecoder(doubles: Map<string, object> = new Map()): (json: Json) => unknown {
  const classes = new Map<string, object>();
  return (json) => decodeAny({ classes, doubles, made: [] }, json);
}

interface Decoding {
  readonly classes: Map<string, object>;
  /** What stands for doubles, by what they print as. */
  readonly doubles: Map<string, object>;
  /** The value's objects in the order in which they begin. */
  readonly made: object[];
}

type Tagged = { readonly [key: string]: Json };

function decodeAny(decoding: Decoding, json: Json): unknown {
  if (typeof json !== 'object' || json === null) return json;
  if (Array.isArray(json)) return decodeItems(decoding, made(decoding, []), json);
  const tagged = json as Tagged;
  return Object.hasOwn(tagged, '$')
    ? decodeTagged(decoding, tagged)
    : decodeOwn(decoding, made(decoding, {}), Object.entries(tagged));
}

function made<T extends object>(decoding: Decoding, value: T): T {
  decoding.made.push(value);
  return value;
}

function decodeItems(decoding: Decoding, items: unknown[], json: readonly Json[]): unknown[] {
  for (const item of json) {
    if (isHole(item)) items.length += 1;
    else items.push(decodeAny(decoding, item));
  }
  return items;
}

function isHole(json: Json): boolean {
  return typeof json === 'object' && json !== null && (json as Tagged)['$'] === 'hole';
}

function decodeOwn<T extends object>(
  decoding: Decoding,
  target: T,
  own: readonly (readonly [Json, Json])[],
): T {
  for (const [encoded, held] of own) {
    const key = decodeAny(decoding, encoded) as PropertyKey;
    if (
      typeof key === 'string' &&
      key !== '__proto__' &&
      Object.getPrototypeOf(target) === Object.prototype
    ) {
      (target as Record<string, unknown>)[key] = decodeAny(decoding, held);
      continue;
    }
    if (typeof key === 'symbol') noteExtras(target, null);
    Object.defineProperty(target, key, {
      value: decodeAny(decoding, held),
      writable: true,
      enumerable: true,
      configurable: true,
    });
  }
  return target;
}

function decodeTagged(decoding: Decoding, json: Tagged): unknown {
  const text = (key: string) => String(json[key] ?? '');
  const list = (key: string) => (Array.isArray(json[key]) ? (json[key] as readonly Json[]) : []);
  const own = () => list('own') as unknown as readonly (readonly [Json, Json])[];
  switch (json['$']) {
    case 'undefined':
      return undefined;
    case 'number':
      return Number(text('of'));
    case 'bigint':
      return BigInt(text('of'));
    case 'symbol':
      return json['for'] === undefined ? Symbol(text('of')) : Symbol.for(text('for'));
    case 'shown':
      return makeOwn({ [printsAs]: text('as') });
    case 'double': {
      const known = decoding.doubles.get(text('as'));
      if (known !== undefined) return known;
      const shown = makeOwn({ [printsAs]: text('as') });
      decoding.doubles.set(text('as'), shown);
      return shown;
    }
    case 'gap':
      return makeGap(text('why') as GapReason, undefined, text('as').replace(/^‹|›$/g, ''));
    case 'same':
      return decoding.made[Number(json['as'])];
    case 'array': {
      const items = decodeItems(decoding, made(decoding, []), list('items'));
      noteExtras(items, null);
      return decodeOwn(decoding, classed(decoding, items, json), own());
    }
    case 'map': {
      const map = made(decoding, new Map());
      for (const entry of list('entries') as unknown as readonly (readonly [Json, Json])[]) {
        map.set(decodeAny(decoding, entry[0]), decodeAny(decoding, entry[1]));
      }
      return decodeOwn(decoding, classed(decoding, map, json), own());
    }
    case 'set': {
      const set = made(decoding, new Set());
      for (const item of list('items')) set.add(decodeAny(decoding, item));
      return decodeOwn(decoding, classed(decoding, set, json), own());
    }
    case 'date': {
      const date = new Date(json['at'] === null ? Number.NaN : Number(json['at']));
      return decodeOwn(decoding, classed(decoding, made(decoding, date), json), own());
    }
    case 'regexp': {
      const regexp = made(decoding, new RegExp(text('of'), text('flags')));
      regexp.lastIndex = Number(json['last'] ?? 0);
      return regexp;
    }
    case 'bytes':
      return made(decoding, decodeBytes(text('type'), text('base64'), text('class')));
    case 'boxed': {
      const at = decoding.made.push({}) - 1;
      const boxed: object = Object(decodeAny(decoding, json['of'] ?? null));
      decoding.made[at] = boxed;
      return boxed;
    }
    case 'url':
      return made(decoding, new URL(text('of')));
    case 'params':
      return made(decoding, new URLSearchParams(text('of')));
    case 'platform': {
      const at = decoding.made.push({}) - 1;
      const of: object = Object.create(classNamed(decoding, text('class'), false));
      const content = decodeOwn(decoding, {}, own());
      const unseen = json['unseen'] === undefined ? undefined : text('unseen');
      const print = classCalled(text('type'))?.print;
      const snapshot = new Snapshot(of, content, { type: text('type'), unseen, print });
      decoding.made[at] = snapshot;
      return snapshot;
    }
    case 'object':
      return decodeOwn(decoding, made(decoding, {}), own());
    case 'bare':
      return decodeOwn(decoding, made(decoding, Object.create(null)), own());
    case 'error':
    case 'instance': {
      const prototype = classNamed(decoding, text('class'), json['$'] === 'error');
      return decodeOwn(decoding, made(decoding, Object.create(prototype)), own());
    }
    default:
      throw new TypeError(`a value of a kind unknown here: ${JSON.stringify(json['$'])}`);
  }
}

/** A value of a class that is derived from the platform's, told by its name. */
function classed<T extends object>(decoding: Decoding, value: T, json: Tagged): T {
  const name = json['class'];
  if (typeof name !== 'string') return value;
  const parent = Object.getPrototypeOf(value);
  const prototype = classNamed(decoding, name, false);
  if (Object.getPrototypeOf(prototype) === Object.prototype)
    Object.setPrototypeOf(prototype, parent);
  return Object.setPrototypeOf(value, prototype);
}

const standardErrors: Readonly<Record<string, object>> = {
  Error: Error.prototype,
  AggregateError: AggregateError.prototype,
  EvalError: EvalError.prototype,
  RangeError: RangeError.prototype,
  ReferenceError: ReferenceError.prototype,
  SyntaxError: SyntaxError.prototype,
  TypeError: TypeError.prototype,
  URIError: URIError.prototype,
};

function classNamed({ classes }: Decoding, name: string, isError: boolean): object {
  if (isError && Object.hasOwn(standardErrors, name))
    return standardErrors[name] ?? Error.prototype;
  const key = `${isError ? 'error' : 'class'} ${name}`;
  const known = classes.get(key);
  if (known !== undefined) return known;
  const type = isError ? class extends Error {} : class {};
  Object.defineProperty(type, 'name', { value: name });
  classes.set(key, type.prototype);
  return type.prototype;
}

function decodeBytes(type: string, base64: string, name: string): object {
  const { buffer } = Uint8Array.from(atob(base64), (character) => character.charCodeAt(0));
  if (type === 'ArrayBuffer') return buffer;
  if (type === 'DataView') return new DataView(buffer);
  const { Buffer } = globalThis as { readonly Buffer?: typeof globalThis.Buffer };
  if (name === 'Buffer' && Buffer !== undefined) return Buffer.from(buffer);
  const made: unknown = (globalThis as Readonly<Record<string, unknown>>)[type];
  if (typeof made !== 'function') throw new TypeError(`bytes of a type unknown here: ${type}`);
  return Reflect.construct(made, [buffer]);
}
