import { copyList, isItsOwnCopy } from './copy.ts';
import type { Copies, CopyOptions } from './copying.ts';
import { printsAs } from './prints-as.ts';
import { refuse } from './refuse.ts';

/** Objects that were expected, by their copies. */
const claimedOriginals = new WeakMap<object, object>();

/**
 * Copies expected values, like `copyList`: a recorded value may be one of these very objects.
 *
 * @throws TypeError if a matcher, or anything else of Ekkon's own, is of another copy of Ekkon: it would be compared
 * like any object, and no argument would equal it
 */
export function copyClaimedList(
  values: readonly unknown[],
  options: CopyOptions = {},
): { readonly values: readonly unknown[]; readonly copies: Copies } {
  const list = copyList(values, options);
  if (list.ofOther !== undefined) refuse(`${saidOf(list.ofOther)} ${ofOtherCopy}`, copyClaimedList);
  for (let made = list.copies; made !== undefined; made = made.next)
    claimedOriginals.set(made.copy, made.original);
  return list;
}

/** What to do about something that another copy of Ekkon made. */
const ofOtherCopy =
  'was made by another copy of Ekkon, which this one cannot read. Two are loaded: npm ls ekkon shows whether two versions are installed; else a bundler copied one, and both have to be imported in the same way.';

function saidOf(value: object): string {
  return String((value as { readonly [printsAs]?: unknown })[printsAs]);
}

/** Copies one value that is expected. */
export function copyClaimed<T>(value: T): T {
  return isItsOwnCopy(value) ? value : (copyClaimedList([value]).values[0] as T);
}

/** The expected object, given its stand-in in a copy. */
export function claimedOriginal(copy: object): object {
  return claimedOriginals.get(copy) ?? copy;
}
