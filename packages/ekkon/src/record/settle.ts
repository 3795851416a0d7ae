/** Hears how a promise settled. */
export interface Settling {
  fulfilled(value: unknown): void;
  rejected(reason: unknown): void;
}

/** Follows the promises that real code gives back. One for each record. */
export interface Promises {
  /**
   * Returns the caller's value in place of `result`. For a plain native promise that is a derived one, always the
   * same for the same promise. It settles the same way one microtask later, so an unhandled rejection is still
   * reported. Any other value is returned as it is, and `undefined` means that nothing more will be heard of it.
   */
  follow(result: object, heard: Settling): Promise<unknown> | undefined;
}

interface Followed {
  readonly derived: Promise<unknown>;
  /** Those that listen until it settles. */
  readonly listeners: Settling[];
  /** How it settled, said to one more listener; `undefined` until then. */
  tell: ((heard: Settling) => void) | undefined;
}

export function followPromises(): Promises {
  const known = new WeakMap<object, Followed>();

  function follow(result: object, heard: Settling): Promise<unknown> | undefined {
    const followed = known.get(result) ?? start(result);
    if (followed === undefined) return undefined;
    const { listeners, tell } = followed;
    if (tell === undefined) listeners.push(heard);
    else soon(() => tell(heard));
    return followed.derived;
  }

  function start(result: object): Followed | undefined {
    if (!isPlainPromise(result)) return undefined;
    const settle = (tell: (heard: Settling) => void) => {
      for (const heard of followed.listeners.splice(0)) tell(heard);
      followed.tell = tell;
    };
    const derived = deriveFrom(
      result,
      (value) => settle((heard) => heard.fulfilled(value)),
      (reason) => settle((heard) => heard.rejected(reason)),
    );
    if (derived === undefined) return undefined;
    const followed: Followed = { derived, listeners: [], tell: undefined };
    known.set(result, followed);
    // The derived promise may be given back once more by code that passes it on.
    known.set(derived, followed);
    return followed;
  }

  return { follow };
}

const nativeThen = Promise.prototype.then;
const settled = Promise.resolve();

/** Runs something in a microtask of its own, also if a fake clock has replaced the platform's queue. */
export function soon(run: () => void): void {
  void nativeThen.call(settled, run);
}

/** A promise that settles as `original` does, after one of the two was told; nothing for a fake. */
function deriveFrom(
  original: Promise<unknown>,
  fulfilled: (value: unknown) => void,
  rejected: (reason: unknown) => void,
): Promise<unknown> | undefined {
  const pass = (value: unknown) => {
    fulfilled(value);
    return value;
  };
  const fail = (reason: unknown) => {
    rejected(reason);
    throw reason;
  };
  try {
    return nativeThen.call(original, pass, fail);
  } catch {
    return undefined;
  }
}

/** Symbols that the platform itself puts on promises while asynchronous contexts are tracked. */
const platformMarks = new Set(['async_id_symbol', 'trigger_async_id_symbol', 'kResourceStore']);

/** A promise with nothing added: following it cannot run anybody's code. */
function isPlainPromise(value: object): value is Promise<unknown> {
  if (Object.getPrototypeOf(value) !== Promise.prototype) return false;
  return Reflect.ownKeys(value).every(
    (key) => typeof key === 'symbol' && platformMarks.has(key.description ?? ''),
  );
}
