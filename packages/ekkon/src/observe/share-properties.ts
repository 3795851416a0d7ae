import type { RealFunction } from '../record/member.ts';
import { tied } from '../record/tie.ts';

/** The properties that every function inherits. */
const ofFunctions: ReadonlySet<unknown> = new Set(
  Object.values(Object.getOwnPropertyDescriptors(Function.prototype)).map(({ value }) => value),
);

/**
 * Lets the function in a real one's place share the real one's properties: a property that is written, added or
 * deleted on one changes on the other, and statics of a class with private state run on the class that has it.
 *
 * @param isClass whether the real function is a class
 * @returns the function to put in the place
 */
export function shareProperties(
  recorded: RealFunction,
  real: RealFunction,
  isClass: boolean,
): RealFunction {
  const own: ReadonlySet<string | symbol> = new Set(Reflect.ownKeys(recorded));
  const holderOf = (key: string | symbol) => (own.has(key) ? recorded : real);
  const isPrivate = isClass && Function.prototype.toString.call(real).includes('#');
  const onReal = new Map<unknown, unknown>();
  const original = new Map<unknown, unknown>();

  /** The visible form of a static: a method that runs on the real class. */
  function seen(value: unknown): unknown {
    const isStatic = isPrivate && typeof value === 'function' && tied(value) === undefined;
    if (!isStatic || ofFunctions.has(value)) return value;
    if (!onReal.has(value)) {
      const forwarded = new Proxy(value as RealFunction, {
        apply: (run, receiver, args) =>
          Reflect.apply(run, receiver === shared ? real : receiver, args),
      });
      onReal.set(value, forwarded);
      original.set(forwarded, value);
    }
    return onReal.get(value);
  }
  const unseen = (value: unknown): unknown => original.get(value) ?? value;

  const shared: RealFunction = new Proxy(recorded, {
    get(_, key, receiver) {
      const holder = holderOf(key);
      const value: unknown = Reflect.get(holder, key, receiver === shared ? holder : receiver);
      return holder === recorded ? value : seen(value);
    },
    set(_, key, value, receiver) {
      const holder = holderOf(key);
      return Reflect.set(holder, key, unseen(value), receiver === shared ? holder : receiver);
    },
    defineProperty(_, key, { ...descriptor }) {
      if ('value' in descriptor) descriptor.value = unseen(descriptor.value);
      if (!Reflect.defineProperty(holderOf(key), key, descriptor)) return false;
      // A proxy may report a property as unchangeable only if its target has it.
      return descriptor.configurable !== false || Reflect.defineProperty(recorded, key, descriptor);
    },
    deleteProperty: (_, key) => Reflect.deleteProperty(holderOf(key), key),
    ownKeys: () => [...new Set([...own, ...Reflect.ownKeys(real)])],
    getOwnPropertyDescriptor(_, key) {
      const holder = holderOf(key);
      const descriptor = Reflect.getOwnPropertyDescriptor(holder, key);
      if (descriptor === undefined || holder === recorded) return descriptor;
      if ('value' in descriptor) descriptor.value = seen(descriptor.value);
      return { ...descriptor, configurable: true };
    },
    construct: (_, args, newTarget) =>
      Reflect.construct(recorded, args, newTarget === shared ? recorded : newTarget),
  });
  return shared;
}
