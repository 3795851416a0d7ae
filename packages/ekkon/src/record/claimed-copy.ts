import { copyList, isLeaf } from './copy.ts';
import type { Copies, CopyOptions } from './copying.ts';

/** Objects that were claimed, by their copies. */
const claimedOriginals = new WeakMap<object, object>();

/** Copies values that are claimed, as `copyList` does: what is recorded may be one of these very objects. */
export function copyClaimedList(
  values: readonly unknown[],
  options: CopyOptions = {},
): { readonly values: readonly unknown[]; readonly copies: Copies } {
  const list = copyList(values, options);
  for (let made = list.copies; made !== undefined; made = made.next)
    claimedOriginals.set(made.copy, made.original);
  return list;
}

/** Copies one value that is claimed. */
export function copyClaimed<T>(value: T): T {
  return isLeaf(value) ? value : (copyClaimedList([value]).values[0] as T);
}

/** The object that was claimed, given what stands for it in a copy. */
export function claimedOriginal(copy: object): object {
  return claimedOriginals.get(copy) ?? copy;
}
