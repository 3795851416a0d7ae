import { noteExtras } from './extras.ts';
import { type Json, type Pairs, pairsIn, type Tagged, textIn } from './json.ts';

/** A value being made of JSON, as each kind of value makes its parts through it. */
export interface Decoding {
  /** The prototypes of classes that the values name, by name. */
  readonly classes: Map<string, object>;
  /** The placeholders of doubles, by their printed form. */
  readonly doubles: Map<string, object>;
  /** The value's objects in the order in which they begin. */
  readonly made: object[];
  decode(json: Json): unknown;
}

/** Notes an object as the next of the value's. */
export function made<T extends object>(decoding: Decoding, value: T): T {
  decoding.made.push(value);
  return value;
}

/** Makes an object that can only be made once its parts are known. */
export function madeLast<T extends object>(decoding: Decoding, make: () => T): T {
  const at = decoding.made.push({}) - 1;
  const value = make();
  decoding.made[at] = value;
  return value;
}

export function decodeItems(
  decoding: Decoding,
  items: unknown[],
  json: readonly Json[],
): unknown[] {
  for (const item of json) {
    if (isHole(item)) items.length += 1;
    else items.push(decoding.decode(item));
  }
  return items;
}

function isHole(json: Json): boolean {
  return typeof json === 'object' && json !== null && (json as Tagged)['$'] === 'hole';
}

/** Adds properties to an object, as they were written. */
export function decodeOwn<T extends object>(decoding: Decoding, target: T, own: Pairs): T {
  for (const [encoded, held] of own) {
    const key = decoding.decode(encoded) as PropertyKey;
    const isPlain = typeof key === 'string' && key !== '__proto__';
    if (isPlain && Object.getPrototypeOf(target) === Object.prototype) {
      (target as Record<string, unknown>)[key] = decoding.decode(held);
      continue;
    }
    if (typeof key === 'symbol') noteExtras(target, null);
    Object.defineProperty(target, key, {
      value: decoding.decode(held),
      writable: true,
      enumerable: true,
      configurable: true,
    });
  }
  return target;
}

/** A value of the platform's, or of a class that is derived from it, with properties of its own. */
export function decodeDerived<T extends object>(decoding: Decoding, value: T, json: Tagged): T {
  return decodeOwn(decoding, classed(decoding, value, json), pairsIn(json, 'own'));
}

function classed<T extends object>(decoding: Decoding, value: T, json: Tagged): T {
  if (typeof json['class'] !== 'string') return value;
  const parent = Object.getPrototypeOf(value);
  const prototype = classNamed(decoding, textIn(json, 'class'), Object);
  if (Object.getPrototypeOf(prototype) === Object.prototype)
    Object.setPrototypeOf(prototype, parent);
  return Object.setPrototypeOf(value, prototype);
}

/** The prototype of a class known by its name and its parents: one per reader. */
export function classNamed(
  { classes }: Decoding,
  name: string,
  parent: ObjectConstructor | ErrorConstructor,
): object {
  const key = `${parent.name} ${name}`;
  const known = classes.get(key);
  if (known !== undefined) return known;
  const type = parent === Object ? class {} : class extends Error {};
  Object.defineProperty(type, 'name', { value: name });
  classes.set(key, type.prototype);
  return type.prototype;
}
