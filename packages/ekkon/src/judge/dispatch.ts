import type { Hearing } from '../claim/parts.ts';
import { type HeldEvent, isAtEnd, targetOf } from '../pattern/event.ts';
import { TargetIndex } from '../pattern/pattern-index.ts';
import type { HeldEntry } from '../record/journal.ts';

/** Receives the events that may concern it. */
export interface Listener {
  take(entry: HeldEntry, end: boolean, tick: number): unknown;
}

/** Passes each event only to listeners that it may concern, so it costs the others nothing. */
export class Dispatch {
  private readonly begins: (TargetIndex<Listener> | undefined)[] = [];
  private readonly ends: (TargetIndex<Listener> | undefined)[] = [];
  /** Those that hear beginnings though they may fit no pattern. */
  private readonly everywhere = new Set<Listener>();
  /** Whether anybody listens for ends. */
  hearsEnds = false;

  /** Adds a listener; the returned function removes it. */
  add(listener: Listener, { events, beginnings }: Hearing): () => void {
    const sets = beginnings === undefined ? this.setsFor(events) : [this.everywhere];
    if (beginnings !== undefined) sets.push(...this.setsFor(events.filter(isEndPattern)));
    for (const set of sets) set.add(listener);
    return () => {
      for (const set of sets) set.delete(listener);
    };
  }

  tell(entry: HeldEntry, end: boolean, tick: number): void {
    if (!end) for (const listener of this.everywhere) listener.take(entry, end, tick);
    const known = (end ? this.ends : this.begins)[entry.target.number];
    if (known === undefined) return;
    for (const listeners of known.find(entry))
      for (const listener of listeners) listener.take(entry, end, tick);
  }

  /** The sets that a listener must join so that it receives each event once. */
  private setsFor(events: readonly (HeldEvent | undefined)[]): Set<Listener>[] {
    const bySide = new Map<TargetIndex<Listener>, HeldEvent[]>();
    for (const event of events) {
      if (event === undefined) continue;
      const side = this.sideFor(event);
      const known = bySide.get(side);
      if (known === undefined) bySide.set(side, [event]);
      else known.push(event);
    }
    return [...bySide].flatMap(([side, its]) => [...side.setsFor(its)]);
  }

  private sideFor(event: HeldEvent): TargetIndex<Listener> {
    const end = isAtEnd(event);
    if (end) this.hearsEnds = true;
    const side = end ? this.ends : this.begins;
    const { number } = targetOf(event);
    const known = side[number] ?? new TargetIndex<Listener>();
    side[number] = known;
    return known;
  }
}

function isEndPattern(event: HeldEvent | undefined): boolean {
  return event !== undefined && isAtEnd(event);
}
