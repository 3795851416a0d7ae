/** Items by a common key, each group in their order. */
export function grouped<T, K>(
  items: readonly T[],
  keyOf: (item: T) => K,
): ReadonlyMap<K, readonly T[]> {
  const groups = new Map<K, T[]>();
  for (const item of items) {
    const key = keyOf(item);
    const known = groups.get(key);
    if (known === undefined) groups.set(key, [item]);
    else known.push(item);
  }
  return groups;
}
