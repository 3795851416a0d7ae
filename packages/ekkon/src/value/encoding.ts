import { className, nameOfClass } from './class-name.ts';
import type { Json, Pairs } from './json.ts';

/** A value being turned into JSON, as each kind of value turns its parts through it. */
export interface Encoding {
  encode(value: unknown): Json;
  /** The copy that recording makes of a value. */
  copyOf(value: object): unknown;
  /** Something that cannot be carried, by how it prints. */
  shown(value: unknown): Json;
}

/** The own properties of a value; of those with names, the wanted ones. */
export function ownPairs(
  encoding: Encoding,
  value: object,
  wanted: (key: string) => boolean = () => true,
): Pairs {
  return Reflect.ownKeys(value)
    .filter((key) => typeof key === 'symbol' || wanted(key))
    .map((key) => [
      encoding.encode(key),
      encoding.encode((value as Readonly<Record<PropertyKey, unknown>>)[key]),
    ]);
}

/** The class of a value of the platform's that is derived from it, and its own properties, if it has any. */
export function madeBy(
  encoding: Encoding,
  value: object,
  prototype: object,
): { readonly class?: string; readonly own?: Pairs } {
  const own = Array.isArray(value) ? [] : ownPairs(encoding, value);
  const isDerived = Object.getPrototypeOf(value) !== prototype;
  const name = classOf(value);
  return {
    ...(isDerived && name !== nameOfClass(prototype) ? { class: name } : {}),
    ...(own.length > 0 ? { own } : {}),
  };
}

/** The class that a value is written with. */
export function classOf(value: object): string {
  return className(value) ?? 'Object';
}
