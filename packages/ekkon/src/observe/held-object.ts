/** Whether a value can hold members: an object or a function. */
export function isHeldObject(value: unknown): value is object {
  return (typeof value === 'object' && value !== null) || typeof value === 'function';
}
