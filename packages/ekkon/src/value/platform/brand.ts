import { constructorOf } from '../class-name.ts';
import { isNative } from '../is-native.ts';
import { loadedModule } from './loaded-module.ts';

/** How the real class of a name can be told from a class of somebody's own with that name. */
export interface Marks {
  readonly name: string;
  /** Members that the class's own prototype has in every implementation. */
  readonly has: readonly PropertyKey[];
  /** The module of Node that exports it, if it is not a global. */
  readonly module?: string;
  /** Further members by which an implementation in JavaScript is known that has no other brand. */
  readonly whole?: readonly PropertyKey[];
}

/**
 * Whether a prototype is that of the platform's class of a name: the class is the engine's, one of Node's modules
 * exports it, or it has the brand of one in JavaScript, as Node and DOMs have them. A class of somebody's own is none
 * of these, whatever it is called and whatever members it has.
 */
export function isPlatforms(prototype: object, marks: Marks): boolean {
  if (!marks.has.every((member) => Object.hasOwn(prototype, member))) return false;
  const made = constructorOf(prototype);
  if (isNative(made)) return true;
  if (marks.module !== undefined) return made === exportedBy(marks.module, marks.name);
  return isBranded(prototype, marks);
}

/**
 * Whether a class that adds to one of the platform's is the platform's as well, though it may not be in the table.
 * Interfaces that are made from the standards' definitions carry their name.
 */
export function isPlatformHeir(prototype: object, name: string): boolean {
  const made = constructorOf(prototype);
  return isNative(made) || tagOf(prototype) === name;
}

function tagOf(prototype: object): unknown {
  return Object.getOwnPropertyDescriptor(prototype, Symbol.toStringTag)?.value;
}

/** A class in JavaScript: it carries its name and refuses foreign objects, or has the whole interface. */
function isBranded(prototype: object, { name, has, whole }: Marks): boolean {
  if (tagOf(prototype) !== name)
    return whole?.every((key) => Object.hasOwn(prototype, key)) === true;
  const getters = has.flatMap((key) => Object.getOwnPropertyDescriptor(prototype, key)?.get ?? []);
  return getters.every((get) => refuses(get, Object.create(prototype)));
}

function refuses(get: () => unknown, stranger: object): boolean {
  try {
    Reflect.apply(get, stranger, []);
    return false;
  } catch {
    return true;
  }
}

function exportedBy(id: string, name: string): unknown {
  const exported = loadedModule(id) as { readonly [key: string]: unknown } | undefined;
  return exported?.[name];
}
