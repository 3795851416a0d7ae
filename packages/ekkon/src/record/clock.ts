/** The clock of waits. */
export interface Clock {
  /** Milliseconds since any fixed moment. */
  now(): number;
  /** Calls `run` after some milliseconds; the returned function cancels that. */
  after(ms: number, run: () => void): () => void;
}

// Those of the moment of loading: a test that fakes time does not stop the waits with it.
const { setTimeout, clearTimeout, performance } = globalThis;
const now = performance.now.bind(performance);

/** The longest time that the platform's timers can take, in milliseconds. */
const longest = 2 ** 31 - 1;

/** The platform's clock, as it was when this was loaded. */
export const platformClock: Clock = {
  now,
  after(ms, run) {
    if (ms > longest) return () => {};
    const timer = setTimeout(run, ms);
    return () => clearTimeout(timer);
  },
};

/** Runs something in a turn of its own, after every microtask that is due; no faked or frozen clock delays it. */
export const nextTurn: (run: () => void) => void = turnMaker();

/** Makes a turn without a timer: in the platform's own way, by a message to oneself, or else with a timer. */
function turnMaker(): (run: () => void) => void {
  const { setImmediate } = globalThis as { readonly setImmediate?: (run: () => void) => unknown };
  if (typeof setImmediate === 'function') return (run) => void setImmediate(run);
  // Not asked for above: where it is made when first asked for, that takes milliseconds.
  const { MessageChannel } = globalThis;
  if (typeof MessageChannel !== 'function') return (run) => void setTimeout(run, 0);
  return (run) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      run();
    };
    port2.postMessage(undefined);
  };
}
