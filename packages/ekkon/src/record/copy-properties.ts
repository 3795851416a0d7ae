import { copyAny, copyObject } from './copy.ts';
import { alike, type Copying, lookupGetter, remember, tooLarge } from './copying.ts';
import { noteExtras } from './extras.ts';
import { makeGap } from './gap.ts';
import { kindOf } from './kind.ts';
import { observedState } from './observed-state.ts';

const { getPrototypeOf, getOwnPropertyDescriptor, getOwnPropertySymbols } = Object;

/** A plain object or an instance, by its enumerable own properties. */
export function copyProperties(copying: Copying, value: object): object {
  const keys = Object.keys(value);
  copying.nodes -= keys.length;
  if (copying.nodes < 0) return tooLarge(value);
  for (let at = 0; at < keys.length; at++) {
    if (lookupGetter.call(value, keys[at] as string) !== undefined)
      return copyOneByOne(copying, value);
  }
  if (getOwnPropertySymbols(value).length > 0) return copyOneByOne(copying, value);
  if (keys.length > fewKeys && getPrototypeOf(value) !== Object.prototype)
    return copyByKey(copying, value, keys);
  // Every own property holds data, so that spreading runs nothing; it is by far the fastest copy.
  const copy: Record<string, unknown> = { ...value };
  remember(copying, value, alike(value, copy));
  for (let at = 0; at < keys.length; at++) {
    const held = copy[keys[at] as string];
    if (typeof held === 'object' && held !== null)
      copy[keys[at] as string] = copyAny(copying, held);
  }
  return copy;
}

/** Keys of an instance beyond which spreading is slow: an engine may keep the properties of such in a dictionary. */
const fewKeys = 24;

function copyByKey(copying: Copying, value: object, keys: readonly string[]): object {
  const copy: Record<string, unknown> = remember(copying, value, {});
  for (let at = 0; at < keys.length; at++) {
    const key = keys[at] as string;
    const held = (value as Readonly<Record<string, unknown>>)[key];
    const part = typeof held === 'object' && held !== null ? copyAny(copying, held) : held;
    if (key === '__proto__') Object.defineProperty(copy, key, { ...usual, value: part });
    else copy[key] = part;
  }
  return alike(value, copy);
}

const usual = { writable: true, enumerable: true, configurable: true };

function copyOneByOne(copying: Copying, value: object): object {
  const observed = observedState(value);
  if (observed !== undefined) return copyObserved(copying, value, observed);
  return addOwn(copying, value, remember(copying, value, alike(value, {})));
}

/** An object by what stands for it, which holds the same in the open. */
export function copyObserved(copying: Copying, value: object, observed: object): object {
  const copy = copyObject(copying, observed, kindOf(observed)) as object;
  return remember(copying, value, copy);
}

/** Adds the own properties that can be enumerated, and that a copy made in another way does not have yet. */
export function addOwn<T extends object>(copying: Copying, value: object, copy: T): T {
  return addWanted(copying, value, copy, false);
}

/** Adds all own properties, also those that cannot be enumerated; of an error all but where it was thrown. */
export function addAll<T extends object>(copying: Copying, value: object, copy: T): T {
  return addWanted(copying, value, copy, true);
}

function addWanted<T extends object>(
  copying: Copying,
  value: object,
  copy: T,
  isUnlistedWanted: boolean,
): T {
  for (const key of Reflect.ownKeys(value)) {
    if (Object.hasOwn(copy, key)) continue;
    const descriptor = getOwnPropertyDescriptor(value, key);
    if (descriptor === undefined || (!descriptor.enumerable && !isUnlistedWanted)) continue;
    const held =
      'value' in descriptor
        ? copyAny(copying, descriptor.value)
        : makeGap('accessor', undefined, 'accessor');
    if (typeof key === 'symbol' || !descriptor.enumerable) noteExtras(copy);
    if (descriptor.enumerable && key !== '__proto__' && getPrototypeOf(copy) === Object.prototype) {
      (copy as Record<PropertyKey, unknown>)[key] = held;
      continue;
    }
    Object.defineProperty(copy, key, {
      value: held,
      writable: true,
      configurable: true,
      enumerable: descriptor.enumerable ?? false,
    });
  }
  return copy;
}
