import type { Below } from './below.ts';
import { intrinsics } from './intrinsics.ts';
import { didYouMean, nearNames } from './near-names.ts';
import { refuse } from './refuse.ts';

/**
 * Refuses options that are not an object, or that have a key nobody reads: a mistyped option would be an option
 * without effect.
 *
 * @param known the keys there are
 * @param below the public function that was given them
 */
export function readOptions(given: unknown, known: readonly string[], below: Below): void {
  if (given === undefined) return;
  const said = `${below.name}()`;
  if (!isPlain(given)) {
    refuse(
      `${said}: options must be an object: { ${known.join(', ')} }, not ${shown(given)}.`,
      below,
    );
  }
  const unknown = Reflect.ownKeys(given)
    .map(String)
    .find((key) => !known.includes(key));
  if (unknown === undefined) return;
  const [near] = nearNames(unknown, known);
  refuse(
    `${said}: there is no option ${unknown}${near === undefined ? `; these are: ${known.join(', ')}` : `; ${didYouMean(near, unknown)}`}`,
    below,
  );
}

/** Whether a value is an object as braces make it, in whichever realm. */
function isPlain(value: unknown): value is object {
  if (typeof value !== 'object' || value === null) return false;
  const prototype: object | null = Object.getPrototypeOf(value);
  return prototype === null || Object.getPrototypeOf(prototype) === null;
}

/** Options that are none, in a few words; nothing of theirs is run. */
function shown(value: unknown): string {
  if (typeof value === 'string') return intrinsics.stringify(value);
  if (typeof value === 'object' && value !== null)
    return Array.isArray(value) ? 'a list' : 'an instance of a class';
  return typeof value === 'function' ? 'a function' : String(value);
}
