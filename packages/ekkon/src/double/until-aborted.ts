/** An `AbortSignal`, of whichever realm or library. */
interface Signal {
  readonly aborted: boolean;
  readonly reason?: unknown;
  addEventListener(type: 'abort', run: () => void, options: { readonly once: boolean }): void;
}

/**
 * A promise that rejects with a signal's reason once it is aborted: the first signal among some arguments, or among
 * the properties `signal` of those that are objects. Without one it never settles.
 *
 * @param aborted is told the reason just before
 */
export function untilAborted(
  args: readonly unknown[],
  aborted?: (reason: unknown) => void,
): Promise<never> {
  const signal = signalIn(args);
  return new Promise((_, reject) => {
    const end = () => {
      const reason = signal?.reason;
      aborted?.(reason);
      reject(reason);
    };
    if (signal?.aborted === true) end();
    else signal?.addEventListener('abort', end, { once: true });
  });
}

function signalIn(args: readonly unknown[]): Signal | undefined {
  for (const arg of args) {
    if (isSignal(arg)) return arg;
    const held = typeof arg === 'object' && arg !== null ? Reflect.get(arg, 'signal') : undefined;
    if (isSignal(held)) return held;
  }
  return undefined;
}

function isSignal(value: unknown): value is Signal {
  if (typeof value !== 'object' || value === null) return false;
  const { aborted, addEventListener } = value as Partial<Signal>;
  return typeof aborted === 'boolean' && typeof addEventListener === 'function';
}
