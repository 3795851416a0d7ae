import { isPrimitive } from '../record/is-primitive.ts';
import { printsAs } from '../record/prints-as.ts';
import { callsOf, eventFit, type HeldEvent, isEnd } from './event.ts';
import type { JudgedEntry } from './pattern.ts';

/** How many events fit a pattern so far. */
export interface Tally {
  readonly sure: number;
  /** Those of which it cannot be told. */
  readonly unsure: number;
  take(entry: JudgedEntry, end: boolean): void;
  /**
   * Calls back when the count comes to one of these numbers, and at every change once it cannot be told
   * any more; what it gives ends that.
   */
  at(counts: readonly number[], run: () => void): () => void;
}

export function makeTally(event: HeldEvent): Tally {
  const waiting = new Map<number, Set<() => void>>();
  const everyone = new Set<() => void>();
  let [sure, unsure] = [0, 0];

  function take(entry: JudgedEntry, end: boolean): void {
    if (end !== isEnd(event)) return;
    const fit = eventFit(event, entry);
    if (fit === 'differs') return;
    if (fit === 'fits') sure++;
    else unsure++;
    for (const run of (unsure > 0 ? everyone : waiting.get(sure)) ?? []) run();
  }

  function at(counts: readonly number[], run: () => void): () => void {
    everyone.add(run);
    for (const count of counts) {
      const set = waiting.get(count) ?? new Set();
      waiting.set(count, set.add(run));
    }
    return () => {
      everyone.delete(run);
      for (const count of counts) waiting.get(count)?.delete(run);
    };
  }

  return {
    get sure() {
      return sure;
    },
    get unsure() {
      return unsure;
    },
    take,
    at,
  };
}

/** The same for patterns that surely mean the same; nothing where that cannot be told from how they print. */
export function tallyKey(event: HeldEvent): string | undefined {
  const calls = callsOf(event);
  const claimed = isEnd(event) ? event.claimed : [];
  const isPlain = [...(calls.claimed?.items ?? []), ...claimed].every(
    (item) => isPrimitive(item) && typeof item !== 'symbol' && !isLong(item),
  );
  return isPlain ? `${calls.of} ${event.of} ${event[printsAs]}` : undefined;
}

/** Whether a text is one that prints may cut. */
function isLong(item: unknown): boolean {
  return typeof item === 'string' && item.length > 60;
}
