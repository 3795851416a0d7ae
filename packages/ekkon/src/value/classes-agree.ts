import { constructorOf, nameOfClass } from './class-name.ts';
import { isNative } from './is-native.ts';
import type { Kind } from './kind.ts';
import { areNamedAlike } from './named-class.ts';

/** Whether values of two kinds may be equal: a plain literal may describe an instance. */
export function kindsAgree(expected: Kind, received: Kind): boolean {
  return expected === received || (expected === 'plain' && received === 'instance');
}

/** Whether two objects of such kinds are of one class, as far as that counts. */
export function prototypesAgree(kind: Kind, expected: object, received: object): boolean {
  const prototype = Object.getPrototypeOf(expected);
  if (kind === 'plain' || kind === 'own') return true;
  if (kind === 'array' && prototype === Array.prototype) return true;
  const other = Object.getPrototypeOf(received);
  if (prototype === other || areNamedAlike(prototype, other)) return true;
  // Each realm has platform types of its own: a Map from a test environment's realm is a Map.
  const type = platformName(prototype);
  return type !== undefined && type === platformName(other);
}

/** The name of the platform's type that a prototype belongs to; `undefined` for a class of somebody's own. */
function platformName(prototype: object | null): string | undefined {
  if (prototype === null || !isNative(constructorOf(prototype))) return undefined;
  return nameOfClass(prototype);
}
