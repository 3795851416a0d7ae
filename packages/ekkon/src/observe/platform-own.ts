/** Objects of the platform whose functions Ekkon uses itself, for whatever it records and judges. */
const used: readonly (readonly [name: string, holder: object])[] = [
  ['Object', Object],
  ['Object.prototype', Object.prototype],
  ['Function.prototype', Function.prototype],
  ['Array', Array],
  ['Array.prototype', Array.prototype],
  ['String.prototype', String.prototype],
  ['Number', Number],
  ['RegExp.prototype', RegExp.prototype],
  ['Symbol', Symbol],
  ['Map.prototype', Map.prototype],
  ['Set.prototype', Set.prototype],
  ['WeakMap.prototype', WeakMap.prototype],
  ['WeakSet.prototype', WeakSet.prototype],
  ['Symbol.prototype', Symbol.prototype],
  ['Promise', Promise],
  ['Promise.prototype', Promise.prototype],
  ['Reflect', Reflect],
  ['Error', Error],
  ['Error.prototype', Error.prototype],
  ['TypeError.prototype', TypeError.prototype],
  ['an iterator', Object.getPrototypeOf([][Symbol.iterator]())],
  ['an iterator', Object.getPrototypeOf(new Map()[Symbol.iterator]())],
  ['an iterator', Object.getPrototypeOf(new Set()[Symbol.iterator]())],
];

/** Globals that Ekkon makes things with. */
const globals: ReadonlySet<PropertyKey> = new Set([
  ...['Object', 'Function', 'Array', 'String', 'Number', 'Boolean', 'BigInt', 'RegExp', 'Symbol'],
  ...['Map', 'Set', 'WeakMap', 'WeakSet', 'Promise', 'Proxy', 'Reflect', 'Math', 'JSON'],
  ...['Error', 'TypeError', 'RangeError', 'Uint8Array', 'ArrayBuffer', 'DataView', 'globalThis'],
]);

/** Those of `Math` that Ekkon counts with; the others, `random` among them, can be replaced. */
const counting: ReadonlySet<PropertyKey> = new Set(['min', 'max', 'ceil', 'floor', 'trunc', 'abs']);

/**
 * Whose functions these are, if Ekkon could not work while one of them is replaced; `undefined` for all
 * others, those of another realm included.
 */
export function usedByEkkon(target: object, key: PropertyKey): string | undefined {
  if (target === globalThis) return globals.has(key) ? String(key) : undefined;
  if (target === Math) return counting.has(key) ? 'Math' : undefined;
  if (!Object.hasOwn(target, key)) return undefined;
  return used.find(([, holder]) => holder === target)?.[0];
}
