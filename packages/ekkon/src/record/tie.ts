import { tiedTo, tieTo } from '../value/tie.ts';
import type { Double, Tied } from './member.ts';

/** Ties a function or an object to Ekkon's data about it, hidden from enumeration. */
export function tie(target: object, held: Tied): void {
  tieTo(target, held);
}

/** Ekkon's data about a function or an object; `undefined` if no ledger made it. */
export function tied(target: unknown): Tied | undefined {
  return tiedTo(target) as Tied | undefined;
}

/** Ekkon's data about an object as a whole: also about a real one, or a module, with replaced members. */
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
