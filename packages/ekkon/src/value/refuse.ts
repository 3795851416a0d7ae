import type { Below } from './below.ts';
import { beginAt } from './call-stack.ts';
import { safeText } from './escape.ts';

/**
 * Throws a `TypeError` whose stack begins at the caller of `below`.
 *
 * @param message the invalid value, and what to write instead
 */
export function refuse(message: string, below: Below): never {
  const error = new TypeError(safeText(message));
  beginAt(error, below);
  throw error;
}
