import type { Below } from './below.ts';
import { beginAt } from './call-stack.ts';
import { safeText } from './escape.ts';

/**
 * Throws a `TypeError` whose stack begins where the caller's code called `below`.
 *
 * @param message what was given, and what to write instead
 */
export function refuse(message: string, below: Below): never {
  const error = new TypeError(safeText(message));
  beginAt(error, below);
  throw error;
}
