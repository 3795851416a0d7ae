import type { Standing } from '../claim/parts.ts';
import { matchingOf } from '../match/matcher.ts';
import { callsOf, type HeldEvent } from '../pattern/event.ts';
import { eventFit } from '../pattern/fit.ts';
import { inRange, type Range } from '../pattern/multiplicity.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Fit } from '../value/comparison.ts';
import { isGap } from '../value/gap.ts';

/** Counts how many events fit a pattern, once for all who wait for counts of it. */
export class SharedCount {
  readonly event: HeldEvent;
  sure = 0;
  /** Those of which it is not known. */
  unsure = 0;
  /** Who is told if the count comes to a number, and everyone, who is told at each change once it is not known. */
  private readonly waiting = new Map<number, Set<() => void>>();
  private readonly everyone = new Set<() => void>();

  /** The test of the first argument, if it needs no comparison: it tells most calls apart. */
  private readonly first: ((recorded: unknown) => Fit | undefined) | undefined;

  constructor(event: HeldEvent) {
    this.event = event;
    this.first = matchingOf(callsOf(event).claimed?.items[0])?.fit;
  }

  take(entry: HeldEntry): void {
    const { args } = entry;
    if (this.first !== undefined && args.length > 0 && !isGap(args[0]))
      if (this.first(args[0]) === 'differs') return;
    const fit = eventFit(this.event, entry);
    if (fit === 'differs') return;
    if (fit === 'fits') this.sure++;
    else this.unsure++;
    const told = this.unsure > 0 ? this.everyone : this.waiting.get(this.sure);
    if (told !== undefined) for (const run of told) run();
  }

  /** Whether anybody listens. */
  get isUsed(): boolean {
    return this.everyone.size > 0;
  }

  /** Calls back at counts that change the state of a range; the returned function ends that. */
  listen({ least, most }: Range, run: () => void): () => void {
    this.everyone.add(run);
    for (const count of [least, most + 1]) {
      const known = this.waiting.get(count);
      if (known === undefined) this.waiting.set(count, new Set([run]));
      else known.add(run);
    }
    return () => {
      this.everyone.delete(run);
      for (const count of [least, most + 1]) {
        const known = this.waiting.get(count);
        if (known?.delete(run) === true && known.size === 0) this.waiting.delete(count);
      }
    };
  }

  /** How a count stands: it holds if it does however the undecided ones are decided, and is lost if it may be too much. */
  standing(range: Range): Standing {
    const all = this.sure + this.unsure;
    if (all > range.most) return 'lost';
    return inRange(range, this.sure) && inRange(range, all) ? 'holds' : 'open';
  }
}
