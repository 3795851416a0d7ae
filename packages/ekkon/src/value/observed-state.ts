/**
 * The content of an object whose state a library keeps behind accessors of its own, as mobx does with observables and
 * immer with drafts of collections: read through these, which are the library's and not the user's. `undefined` for
 * any other object. Takes the symbols among its own keys.
 */
export function observedState(value: object, symbols: readonly symbol[]): object | undefined {
  if (!symbols.some(isAdministration)) return undefined;
  const { forEach } = value as { readonly forEach?: unknown };
  if (typeof forEach === 'function') return collected(value, forEach);
  const held: object = Object.create(Object.getPrototypeOf(value));
  for (const key of Object.keys(value)) {
    Object.defineProperty(held, key, {
      value: Reflect.get(value, key),
      writable: true,
      enumerable: true,
      configurable: true,
    });
  }
  return held;
}

/**
 * The map, set or other collection behind a proxy whose library shows it, such as vue's `reactive`; `undefined` if it
 * is unknown.
 */
export function behindProxy(value: object): object | undefined {
  const raw: unknown = Reflect.get(value, '__v_raw');
  return typeof raw === 'object' && raw !== null && raw !== value ? raw : undefined;
}

/** The administration that mobx keeps beside an object, and immer beside a draft of a map or a set. */
function isAdministration({ description }: symbol): boolean {
  return description === 'mobx administration' || description === 'immer-state';
}

/** A map or a set, told apart by its own loop: a set passes each item as its own key. */
function collected(value: object, forEach: unknown): object | undefined {
  const isMap = typeof (value as { readonly get?: unknown }).get === 'function';
  const [map, set] = [new Map<unknown, unknown>(), new Set<unknown>()];
  const each = (item: unknown, key: unknown) => (isMap ? map.set(key, item) : set.add(item));
  Reflect.apply(forEach as (...args: unknown[]) => unknown, value, [each]);
  return isMap ? map : set;
}
