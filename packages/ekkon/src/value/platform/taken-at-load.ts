/**
 * A function of the platform as it is now, though it is read later: Node loads some of its globals on first use, and most
 * processes never use them. A replacement that a test makes meanwhile has no effect, and stays in place.
 *
 * @returns reads it
 */
export function takenAtLoad<K extends keyof typeof globalThis>(
  name: K,
): () => (typeof globalThis)[K] {
  const taken = Object.getOwnPropertyDescriptor(globalThis, name);
  const load = taken?.get;
  if (load === undefined) return () => taken?.value;
  return () => {
    const now = Object.getOwnPropertyDescriptor(globalThis, name);
    const value = Reflect.apply(load, globalThis, []);
    // Loading it the first time sets the global as well.
    if (now !== undefined && now.get !== load) Object.defineProperty(globalThis, name, now);
    return value;
  };
}
