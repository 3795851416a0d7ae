import { chainOf } from './prototype-chain.ts';

/** The class whose prototype this is, by its own constructor; runs no accessor. */
export function constructorOf(prototype: object): unknown {
  return Object.getOwnPropertyDescriptor(prototype, 'constructor')?.value;
}

/** The name of the class whose prototype this is. */
export function nameOfClass(prototype: object): string | undefined {
  const made = constructorOf(prototype);
  const name: unknown =
    typeof made === 'function' ? Object.getOwnPropertyDescriptor(made, 'name')?.value : undefined;
  return typeof name === 'string' && name !== '' ? name : undefined;
}

/** The name of the class that made a value; `undefined` for a plain object. */
export function className(value: object): string | undefined {
  for (const holder of chainOf(value)) {
    const name = holder === value ? undefined : nameOfClass(holder);
    if (name !== undefined) return name;
  }
  return undefined;
}
