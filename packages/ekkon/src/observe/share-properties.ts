import type { RealFunction } from '../record/member.ts';

/**
 * Lets a function that stands in a real one's place share the real one's properties: what is written to one, added or
 * deleted is so of the real one, and statics of a class that keep private state run on the class that has it.
 *
 * @param isClass whether the real function is a class
 * @returns what to put in the place
 */
export function shareProperties(
  recorded: RealFunction,
  real: RealFunction,
  isClass: boolean,
): RealFunction {
  const own: ReadonlySet<string | symbol> = new Set(Reflect.ownKeys(recorded));
  const holderOf = (key: string | symbol) => (own.has(key) ? recorded : real);
  const isPrivate = isClass && Function.prototype.toString.call(real).includes('#');
  const known = new WeakMap<object, unknown>();
  const onReal = (method: RealFunction): unknown => {
    const before = known.get(method);
    if (before !== undefined) return before;
    const forwarded = new Proxy(method, {
      apply: (run, receiver, args) =>
        Reflect.apply(run, receiver === shared ? real : receiver, args),
    });
    known.set(method, forwarded);
    return forwarded;
  };
  const shared: RealFunction = new Proxy(recorded, {
    get(_, key, receiver) {
      const holder = holderOf(key);
      const value: unknown = Reflect.get(holder, key, receiver === shared ? holder : receiver);
      if (!isPrivate || holder === recorded || typeof value !== 'function') return value;
      return key in Function.prototype ? value : onReal(value as RealFunction);
    },
    set(_, key, value, receiver) {
      const holder = holderOf(key);
      return Reflect.set(holder, key, value, receiver === shared ? holder : receiver);
    },
    defineProperty: (_, key, descriptor) =>
      Reflect.defineProperty(holderOf(key), key, descriptor) &&
      // A proxy may tell of what cannot be changed only if its target has it.
      (descriptor.configurable !== false || Reflect.defineProperty(recorded, key, descriptor)),
    deleteProperty: (_, key) => Reflect.deleteProperty(holderOf(key), key),
    has: (_, key) => key in recorded || key in real,
    ownKeys: () => [...new Set([...own, ...Reflect.ownKeys(real)])],
    getOwnPropertyDescriptor(_, key) {
      const holder = holderOf(key);
      const descriptor = Reflect.getOwnPropertyDescriptor(holder, key);
      if (descriptor === undefined || holder === recorded) return descriptor;
      return { ...descriptor, configurable: true };
    },
    construct: (_, args, newTarget) =>
      Reflect.construct(recorded, args, newTarget === shared ? recorded : newTarget),
  });
  return shared;
}
