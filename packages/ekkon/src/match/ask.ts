import { isFixed, present } from '../value/present.ts';
import type { Context } from './matcher.ts';

/**
 * Asks somebody else's code about a recorded value, such that nothing it does to the value is done to the
 * record. Throws what that code throws, or if part of the value was too large to record.
 */
export function askAbout<R>(recorded: unknown, context: Context, ask: (value: unknown) => R): R {
  if (typeof recorded !== 'object' || recorded === null) return ask(recorded);
  const copied = () => ask(present(recorded, (copy) => context.originalOf(copy), 'refuse'));
  if (!isFixed(recorded)) return copied();
  try {
    return ask(recorded);
  } catch (error) {
    // It may have wanted to sort a list in place, say.
    if (error instanceof TypeError) return copied();
    throw error;
  }
}

/** Whether a value can be asked about at once: it needs no copy, since nothing can be written to it. */
export function isAskedAtOnce(recorded: unknown): boolean {
  return typeof recorded !== 'object' || recorded === null;
}
