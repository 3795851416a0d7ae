/**
 * Recorded values as JSON. Plain JSON stands as it is; any other value is an object whose `$` names its kind. The
 * second occurrence of an object is `{"$":"same","as":n}`, where n counts the value's objects from 0 in the order in
 * which they begin.
 */
export type Json =
  | null
  | boolean
  | number
  | string
  | readonly Json[]
  | { readonly [key: string]: Json };

/** A tagged object in JSON: `$` names its kind. */
export type Tagged = { readonly [key: string]: Json };

/** A text below a key; `''` if there is none. */
export function textIn(json: Tagged, key: string): string {
  return String(json[key] ?? '');
}

/** A list below a key; empty if there is none. */
export function listIn(json: Tagged, key: string): readonly Json[] {
  return Array.isArray(json[key]) ? (json[key] as readonly Json[]) : [];
}

/** Keys and values. */
export type Pairs = readonly (readonly [Json, Json])[];

export function pairsIn(json: Tagged, key: string): Pairs {
  return listIn(json, key) as unknown as Pairs;
}
