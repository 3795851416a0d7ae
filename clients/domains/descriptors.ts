/** Everything about the own properties of some objects, and of the objects they inherit from. */
export function descriptorsOf(...objects: readonly object[]): ReadonlyMap<object, object> {
  const found = new Map<object, object>();
  for (const object of objects)
    for (
      let holder: object | null = object;
      holder !== null && !found.has(holder);
      holder = Object.getPrototypeOf(holder)
    )
      found.set(holder, Object.getOwnPropertyDescriptors(holder));
  return found;
}

/** Where properties are other ones than before: each by its key. */
export function changedSince(before: ReadonlyMap<object, object>): readonly string[] {
  return [...before].flatMap(([holder, were]) => {
    const are: Record<PropertyKey, PropertyDescriptor> = Object.getOwnPropertyDescriptors(holder);
    const held = were as typeof are;
    return [...new Set([...Reflect.ownKeys(held), ...Reflect.ownKeys(are)])].flatMap((key) => {
      const [was, is] = [held[key], are[key]];
      const isSame = was !== undefined && is !== undefined && sameDescriptor(was, is);
      return isSame || was === is ? [] : [String(key)];
    });
  });
}

function sameDescriptor(one: PropertyDescriptor, other: PropertyDescriptor): boolean {
  const keys = ['value', 'get', 'set', 'writable', 'enumerable', 'configurable'] as const;
  return keys.every((key) => Object.is(one[key], other[key]));
}
