import type { RealFunction } from '../record/member.ts';
import { chainOf } from '../value/prototype-chain.ts';

/** What every function has for itself. */
const own: ReadonlySet<PropertyKey> = new Set([
  'length',
  'name',
  'prototype',
  'arguments',
  'caller',
]);

/**
 * Lets a function that stands in a class's place share the class's statics: what is written to one is
 * written to the class, and those that keep private state run on the class that has it.
 */
export function shareStatics(recorded: RealFunction, real: RealFunction): void {
  const isPrivate = Function.prototype.toString.call(real).includes('#');
  const known = new WeakMap<object, unknown>();
  const onReal = (method: RealFunction): unknown => {
    if (!isPrivate) return method;
    const before = known.get(method);
    if (before !== undefined) return before;
    const forwarded = new Proxy(method, {
      apply: (run, receiver, args) =>
        Reflect.apply(run, receiver === recorded ? real : receiver, args),
    });
    known.set(method, forwarded);
    return forwarded;
  };
  for (const holder of chainOf(real)) {
    if (holder === Function.prototype) break;
    for (const key of Reflect.ownKeys(holder)) {
      if (own.has(key) || Object.hasOwn(recorded, key)) continue;
      const enumerable = Object.getOwnPropertyDescriptor(holder, key)?.enumerable ?? false;
      Object.defineProperty(recorded, key, {
        configurable: true,
        enumerable,
        get(this: unknown) {
          const value: unknown = Reflect.get(real, key, this === recorded ? real : this);
          return typeof value === 'function' ? onReal(value as RealFunction) : value;
        },
        set(this: object, value: unknown) {
          if (this === recorded) Reflect.set(real, key, value);
          else
            Reflect.defineProperty(this, key, {
              value,
              writable: true,
              enumerable: true,
              configurable: true,
            });
        },
      });
    }
  }
}
