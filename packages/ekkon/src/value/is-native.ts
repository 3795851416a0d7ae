const sourceOf = Function.prototype.toString;

/**
 * Whether a function is the engine's own. Without a regular expression: this is asked of an error that says
 * that the stack is full, and compiling one there takes the process down.
 */
export function isNative(made: unknown): boolean {
  if (typeof made !== 'function') return false;
  const source = sourceOf.call(made);
  return source.slice(source.lastIndexOf('{') + 1, -1).trim() === '[native code]';
}
