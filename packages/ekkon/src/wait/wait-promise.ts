/** A promise that knows whether anybody awaits it, and what to do then. */
export class WaitPromise extends Promise<undefined> {
  /** Whether somebody has asked how it ends. */
  awaited = false;
  #whenAwaited: (() => void) | undefined;

  /** Calls back when somebody asks for the first time; at once if somebody has. */
  onceAwaited(run: () => void): void {
    if (this.awaited) run();
    else this.#whenAwaited = run;
  }

  /** A derived promise is plain, because it is awaited itself. */
  static override get [Symbol.species](): PromiseConstructor {
    return Promise;
  }

  // biome-ignore lint/suspicious/noThenProperty: it is a promise, and `await` asks it by this name.
  override then<A = undefined, B = never>(
    fulfilled?: ((value: undefined) => A | PromiseLike<A>) | null,
    rejected?: ((reason: unknown) => B | PromiseLike<B>) | null,
  ): Promise<A | B> {
    if (!this.awaited) {
      this.awaited = true;
      this.#whenAwaited?.();
    }
    return super.then(fulfilled, rejected);
  }
}

/** Makes one, with the functions that settle it. */
export function makeWaitPromise(): {
  readonly promise: WaitPromise;
  readonly fulfil: () => void;
  readonly reject: (reason: unknown) => void;
} {
  let fulfil: () => void = () => {};
  let reject: (reason: unknown) => void = () => {};
  const promise = new WaitPromise((resolve, refuse) => {
    fulfil = () => resolve(undefined);
    reject = refuse;
  });
  return { promise, fulfil, reject };
}
