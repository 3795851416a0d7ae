import { isGap, missingIn } from './gap.ts';

/** The object that a copy was made of; `undefined` if that is not known. */
export type OriginalOf = (copy: object) => object | undefined;

/** A recorded value being copied for somebody else's code, as each kind of value copies its parts through it. */
export interface Showing {
  readonly originalOf: OriginalOf;
  /** How a list is shown that was too large to record as a whole. */
  readonly ofCut: 'keep' | 'refuse';
  readonly made: Map<object, object>;
  show(value: unknown): unknown;
}

/** Notes how a part is shown, so cycles and shared parts stay. */
export function shownAs<T extends object>({ made }: Showing, value: object, copy: T): T {
  made.set(value, copy);
  return copy;
}

/** Adds a value's own properties to its shown form; reading one that could not be recorded throws. */
export function showOwn<T extends object>(showing: Showing, value: object, copy: T): T {
  shownAs(showing, value, copy);
  for (const key of Reflect.ownKeys(value)) {
    const descriptor = Object.getOwnPropertyDescriptor(value, key);
    if (descriptor === undefined) continue;
    // A text's letters, a list's length and a regular expression's place cannot be defined anew.
    if (Object.getOwnPropertyDescriptor(copy, key)?.configurable === false) {
      Reflect.set(copy, key, descriptor.value);
      continue;
    }
    if ('value' in descriptor && isGap(descriptor.value) && !Array.isArray(value)) {
      const refused = `${String(key)} was not recorded: ${missingIn(descriptor.value)}`;
      const get = () => {
        throw new TypeError(refused);
      };
      Object.defineProperty(copy, key, {
        get,
        enumerable: descriptor.enumerable ?? true,
      });
    } else if ('value' in descriptor)
      Object.defineProperty(copy, key, {
        ...descriptor,
        value: showing.show(descriptor.value),
        writable: true,
        configurable: true,
      });
    else Object.defineProperty(copy, key, descriptor);
  }
  return copy;
}
