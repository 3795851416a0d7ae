import { asCalled, type Below } from './below.ts';

/**
 * Sets how many frames the engine keeps of a stack, and returns how many it kept before. A frozen `Error` keeps its
 * own number.
 */
export function keepFrames(count: number): number {
  const before = Error.stackTraceLimit;
  try {
    Error.stackTraceLimit = count;
  } catch {
    // Frozen: stacks are longer or shorter than asked for.
  }
  return before;
}

/** The frames of those who called a function, the nearest first; none if `Error` is frozen or the engine has no such data. */
export function framesBelow(below: Below, count: number): readonly NodeJS.CallSite[] {
  const captured: { readonly stack?: unknown } = {};
  const { prepareStackTrace } = Error;
  const before = keepFrames(count);
  try {
    Error.prepareStackTrace = (_, frames) => frames;
    Error.captureStackTrace(captured, asCalled(below));
    return Array.isArray(captured.stack) ? captured.stack : [];
  } catch {
    return [];
  } finally {
    keepFrames(before);
    if (Error.prepareStackTrace !== prepareStackTrace)
      Error.prepareStackTrace = prepareStackTrace as never;
  }
}

/** The text of a stack; empty if the program prepares stacks itself, and that throws or returns no text. */
export function stackOf(holder: { readonly stack?: unknown } | undefined): string {
  try {
    const stack = holder?.stack;
    return typeof stack === 'string' ? stack : '';
  } catch {
    return '';
  }
}

/** The frames of a stack, each on a line of its own that begins with a line break; empty if there are none. */
export function framesOf(holder: { readonly stack?: unknown }): string {
  const stack = stackOf(holder);
  const frames = stack.indexOf('\n    at ');
  return frames < 0 ? '' : stack.slice(frames);
}

/** Lets the stack of an error begin where the program called a function. */
export function beginAt(error: Error, below: Below): void {
  try {
    Error.captureStackTrace?.(error, asCalled(below));
  } catch {
    // The program prepares stacks itself, and that threw.
  }
}
