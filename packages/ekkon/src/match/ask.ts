import { isFixed, present } from '../value/present.ts';
import { asking } from '../value/quiet.ts';
import type { Context } from './matcher.ts';

/**
 * Runs foreign code on a received value, without any effect on the record. Throws the error of that code, or one if
 * part of the value was too large to record.
 */
export function askAbout<R>(received: unknown, context: Context, ask: (value: unknown) => R): R {
  if (typeof received !== 'object' || received === null) return asking(() => ask(received));
  const copied = () => {
    const shown = present(received, (copy) => context.originalOf(copy), 'refuse');
    return asking(() => ask(shown));
  };
  if (!isFixed(received)) return copied();
  try {
    return asking(() => ask(received));
  } catch (error) {
    // It may have wanted to sort a list in place, say.
    if (error instanceof TypeError) return copied();
    throw error;
  }
}

/** Whether a value can be asked about at once: it needs no copy, since nothing can be written to it. */
export function isAskedAtOnce(received: unknown): boolean {
  return typeof received !== 'object' || received === null;
}
