import { shortValue } from '../notation/value.ts';

/** Whether a value can hold members: an object or a function. */
export function isHeldObject(value: unknown): value is object {
  return (typeof value === 'object' && value !== null) || typeof value === 'function';
}

/** An object whose members are replaced, as an error says it. */
export function saidOf(target: unknown): string {
  return target === globalThis ? 'globalThis' : shortValue(target, 30);
}
