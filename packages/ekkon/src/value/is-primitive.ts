/** Whether a value is neither an object nor a function: it can only be equal to itself. */
export function isPrimitive(value: unknown): boolean {
  return (typeof value !== 'object' && typeof value !== 'function') || value === null;
}
