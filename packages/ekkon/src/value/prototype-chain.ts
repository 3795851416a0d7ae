import { realBehind } from './tie.ts';

/** An object and its prototypes, the nearest first, without the root of plain objects. */
export function chainOf(target: object): readonly object[] {
  const chain: object[] = [];
  for (let holder: object | null = target; holder !== null && holder !== Object.prototype; ) {
    chain.push(holder);
    holder = Object.getPrototypeOf(holder);
  }
  return chain;
}

/** A member's descriptor, own or inherited, also from the root of plain objects; an accessor does not run. */
export function descriptorOf(target: object, key: PropertyKey): PropertyDescriptor | undefined {
  const chain = chainOf(target);
  const last: object | null = Object.getPrototypeOf(chain.at(-1) ?? target);
  for (const holder of last === null ? chain : [...chain, last]) {
    const descriptor = Object.getOwnPropertyDescriptor(holder, key);
    if (descriptor !== undefined) return descriptor;
  }
  return undefined;
}

/**
 * A platform member, own or inherited, in its original form: a recording replacement is skipped, so reading the
 * member records nothing.
 */
export function platformMember(target: object, key: PropertyKey): PropertyDescriptor | undefined {
  const found = descriptorOf(target, key);
  if (found?.get !== undefined) return { ...found, get: realBehind(found.get) };
  return found === undefined ? undefined : { ...found, value: realBehind(found.value) };
}

/** The names of an object's members, own and inherited, each once. */
export function memberNames(target: object): readonly string[] {
  const names = chainOf(target).flatMap((holder) => Object.getOwnPropertyNames(holder));
  return [...new Set(names)].filter((name) => name !== 'constructor');
}

const { keys, getOwnPropertySymbols } = Object;
const isEnumerable = Object.prototype.propertyIsEnumerable;

/** The keys of an object's own properties that can be enumerated, symbols included. */
export function listedKeys(value: object): readonly PropertyKey[] {
  const symbols = getOwnPropertySymbols(value);
  if (symbols.length === 0) return keys(value);
  return [...keys(value), ...symbols.filter((symbol) => isEnumerable.call(value, symbol))];
}
