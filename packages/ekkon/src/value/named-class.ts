import { nameOfClass } from './class-name.ts';

/** Classes that are known by their names alone, as a text names them. */
const named = new WeakSet<object>();

/** A class that stands for every class of its name. */
export function namedClass(name: string): new () => object {
  const type = class {};
  Object.defineProperty(type, 'name', { value: name });
  named.add(type.prototype);
  return type;
}

/** Whether a prototype is that of such a class. */
export function isNamed(prototype: object | null): prototype is object {
  return prototype !== null && named.has(prototype);
}

/** Whether two prototypes are those of classes of the same name, if one of them is known by its name alone. */
export function areNamedAlike(one: object | null, other: object | null): boolean {
  if (one === null || other === null || !(named.has(one) || named.has(other))) return false;
  const name = nameOfClass(one);
  return name !== undefined && name === nameOfClass(other);
}
