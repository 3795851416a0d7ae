import {
  alike,
  type Copying,
  copyAny,
  copyObserved,
  lookupGetter,
  remember,
  tooLarge,
} from './copying.ts';
import { noteExtras } from './extras.ts';
import { tellingKeys } from './framework-parts.ts';
import { makeGap } from './gap.ts';
import { observedState } from './observed-state.ts';

const { getPrototypeOf, getOwnPropertyDescriptor, getOwnPropertySymbols } = Object;

/** A plain object, by its enumerable own properties. */
export function copyProperties(copying: Copying, value: object): object {
  const telling = tellingKeys(value);
  if (telling !== undefined) return copyTelling(copying, value, telling);
  const keys = Object.keys(value);
  const symbols = getOwnPropertySymbols(value);
  if (symbols.length === 0) return copyKeys(copying, value, keys);
  copying.nodes -= keys.length;
  return copying.nodes < 0 ? tooLarge(value) : copyOneByOne(copying, value, symbols);
}

/** An object of a framework by the properties that identify it. */
export function copyTelling(copying: Copying, value: object, keys: readonly string[]): object {
  const copy = remember(copying, value, alike(value, {}));
  for (const key of keys) {
    const own = getOwnPropertyDescriptor(value, key);
    if (own !== undefined)
      Object.defineProperty(copy, key, {
        ...own,
        value: copyAny(copying, own.value),
        configurable: true,
      });
  }
  return copy;
}

/** An object of which these are all the properties to copy: every enumerable one, and no symbol. */
export function copyKeys(copying: Copying, value: object, keys: readonly string[]): object {
  copying.nodes -= keys.length;
  if (copying.nodes < 0) return tooLarge(value);
  if (hasAccessor(value, keys)) return copyOneByOne(copying, value, noSymbols);
  const copy = copyOpen(copying, value, keys, noSymbols);
  return alike(value, copy);
}

const noSymbols: readonly symbol[] = [];

/** Whether one of these own properties of an object is read by a function. */
export function hasAccessor(value: object, keys: readonly PropertyKey[]): boolean {
  for (let at = 0; at < keys.length; at++) {
    if (lookupGetter.call(value, keys[at] as PropertyKey) !== undefined) return true;
  }
  return false;
}

/**
 * The enumerable part of an object whose own properties all hold data, so spreading runs no code; this is by far the
 * fastest copy. The caller sets its prototype.
 */
export function copyOpen(
  copying: Copying,
  value: object,
  keys: readonly string[],
  symbols: readonly symbol[],
): object {
  const copy: Record<PropertyKey, unknown> = remember(copying, value, { ...value });
  copyHeld(copying, copy, keys);
  if (symbols.length > 0) {
    copyHeld(copying, copy, symbols);
    noteExtras(copy, getPrototypeOf(value));
  }
  return copy;
}

function copyHeld(
  copying: Copying,
  copy: Record<PropertyKey, unknown>,
  keys: readonly PropertyKey[],
): void {
  for (let at = 0; at < keys.length; at++) {
    const held = copy[keys[at] as PropertyKey];
    if (typeof held === 'object' && held !== null)
      copy[keys[at] as PropertyKey] = copyAny(copying, held);
  }
}

function copyOneByOne(copying: Copying, value: object, symbols: readonly symbol[]): object {
  const observed = observedState(value, symbols);
  if (observed !== undefined) return copyObserved(copying, value, observed);
  return addOwn(copying, value, remember(copying, value, alike(value, {})));
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
  let hasExtras = false;
  for (const key of Reflect.ownKeys(value)) {
    if (Object.hasOwn(copy, key)) continue;
    const descriptor = getOwnPropertyDescriptor(value, key);
    if (descriptor === undefined || (!descriptor.enumerable && !isUnlistedWanted)) continue;
    const held =
      'value' in descriptor
        ? copyAny(copying, descriptor.value)
        : makeGap('accessor', undefined, 'accessor');
    hasExtras ||= typeof key === 'symbol' || !descriptor.enumerable;
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
  if (hasExtras) noteExtras(copy, getPrototypeOf(value));
  return copy;
}
