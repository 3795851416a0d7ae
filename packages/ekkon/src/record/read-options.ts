import { nearestName } from './nearest-name.ts';
import { refuse } from './refuse.ts';

// Taken at load, so that observing it records nothing of ours.
const { stringify } = JSON;

type Below = (...args: never[]) => unknown;

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
  if (typeof given !== 'object' || given === null || Array.isArray(given)) {
    refuse(
      `${said}: options must be an object: { ${known.join(', ')} }, not ${typeof given === 'string' ? stringify(given) : String(given)}.`,
      below,
    );
  }
  const unknown = Object.keys(given).find((key) => !known.includes(key));
  if (unknown === undefined) return;
  const near = nearestName(unknown, known);
  refuse(
    `${said}: there is no option ${unknown}${near === undefined ? `; these are: ${known.join(', ')}` : `; did you mean ${near}?`}`,
    below,
  );
}
