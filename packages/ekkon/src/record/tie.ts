import type { Double, Tied } from './member.ts';

/** Leads from what a test holds in its hands to what Ekkon knows of it. */
const tieKey: unique symbol = Symbol('ekkon: tie');

/** What was tied to something: proxies give something of theirs for any key. */
const known = new WeakSet<object>();

/** Ties a function or an object to what Ekkon knows of it, out of sight of enumeration. */
export function tie(target: object, held: Tied): void {
  known.add(held);
  Object.defineProperty(target, tieKey, { value: held });
}

/** What a function or an object is to Ekkon; `undefined` if no ledger made it. */
export function tied(target: unknown): Tied | undefined {
  if ((typeof target !== 'object' && typeof target !== 'function') || target === null)
    return undefined;
  try {
    const held = (target as { readonly [tieKey]?: Tied })[tieKey];
    return typeof held === 'object' && known.has(held) ? held : undefined;
  } catch {
    // A proxy that refuses to be asked is none of ours.
    return undefined;
  }
}

/**
 * What an object is to Ekkon as a whole: also a real one, or a module, of which members were replaced.
 */
export function tiedWhole(target: unknown): Tied | undefined {
  const held = tied(target);
  if (held !== undefined || typeof target !== 'object' || target === null) return held;
  try {
    return replacedIn(target);
  } catch {
    // A proxy that refuses to be asked.
    return undefined;
  }
}

/** A real object as a double: the one that the first of its replaced members belongs to. */
function replacedIn(object: object): Double | undefined {
  const isModule = Object.getOwnPropertyDescriptor(object, Symbol.toStringTag)?.value === 'Module';
  for (const key of Reflect.ownKeys(object)) {
    const own = Object.getOwnPropertyDescriptor(object, key);
    const held = tied(own?.value) ?? tied(own?.get) ?? (isModule ? tied(own?.get?.()) : undefined);
    if (held?.is !== 'member') continue;
    const { journal, target } = held;
    const name = target.double;
    return {
      is: 'double',
      journal,
      name,
      object,
      whenUnplanned: 'allow',
      shape: undefined,
      names: undefined,
    };
  }
  return undefined;
}
