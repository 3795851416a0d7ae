import type { Hearing } from '../claim/parts.ts';
import { type HeldEvent, isAtEnd, targetOf } from '../pattern/event.ts';
import { PartsIndex } from '../pattern/parts-index.ts';
import { firstClaimed } from '../pattern/pattern-index.ts';
import { isPrimitive } from '../record/is-primitive.ts';
import type { HeldEntry } from '../record/journal.ts';

/** Is told of the events that it may have to do with. */
export interface Listener {
  take(entry: HeldEntry, end: boolean, tick: number): unknown;
}

/** The listeners for the beginnings, or for the ends, of one target. */
interface OfTarget {
  /** By the primitive that all their patterns claim as first argument. */
  readonly byFirst: Map<unknown, Set<Listener>>;
  /** By what the first argument holds that their one pattern claims. */
  readonly byParts: PartsIndex<Listener>;
  readonly others: Set<Listener>;
}

/** Tells each event to those whom it may concern, so that it costs nothing to the others. */
export class Dispatch {
  private readonly begins: (OfTarget | undefined)[] = [];
  private readonly ends: (OfTarget | undefined)[] = [];
  /** Those that hear beginnings though they may fit no pattern. */
  private readonly everywhere = new Set<Listener>();
  /** Whether anybody listens for ends. */
  hearsEnds = false;

  /** Adds a listener for what is heard; what it gives takes it away again. */
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
    for (const listener of known.others) listener.take(entry, end, tick);
    for (const listener of known.byParts.find(entry)) listener.take(entry, end, tick);
    if (known.byFirst.size > 0) this.tellByFirst(known, entry, end, tick);
  }

  private tellByFirst({ byFirst }: OfTarget, entry: HeldEntry, end: boolean, tick: number): void {
    const [first] = entry.args;
    if (entry.args.length > 0 && isPrimitive(first)) {
      for (const listener of byFirst.get(first) ?? none) listener.take(entry, end, tick);
      return;
    }
    // What is not a primitive may be a mark for what was not recorded, and fit any.
    const told = new Set<Listener>();
    for (const set of byFirst.values()) for (const listener of set) told.add(listener);
    for (const listener of told) listener.take(entry, end, tick);
  }

  /** The sets in which a listener has to be, so that it is told of each event once. */
  private setsFor(events: readonly (HeldEvent | undefined)[]): Set<Listener>[] {
    const bySide = new Map<OfTarget, HeldEvent[]>();
    for (const event of events) {
      if (event === undefined) continue;
      const side = this.sideFor(event);
      const known = bySide.get(side);
      if (known === undefined) bySide.set(side, [event]);
      else known.push(event);
    }
    return [...bySide].flatMap(([side, its]) => setsOf(side, its));
  }

  private sideFor(event: HeldEvent): OfTarget {
    const end = isAtEnd(event);
    if (end) this.hearsEnds = true;
    const side = end ? this.ends : this.begins;
    const { number } = targetOf(event);
    const known = side[number] ?? {
      byFirst: new Map(),
      byParts: new PartsIndex(),
      others: new Set(),
    };
    side[number] = known;
    return known;
  }
}

const none: ReadonlySet<Listener> = new Set();

function isEndPattern(event: HeldEvent | undefined): boolean {
  return event !== undefined && isAtEnd(event);
}

function setsOf(
  { byFirst, byParts, others }: OfTarget,
  events: readonly HeldEvent[],
): Set<Listener>[] {
  const [only, another] = events;
  const parts = only === undefined || another !== undefined ? undefined : byParts.setsFor(only);
  if (parts !== undefined) return [...parts];
  const sets = new Set<Set<Listener>>();
  for (const event of events) {
    const first = firstClaimed(event);
    if (first === undefined) return [others];
    const set = byFirst.get(first.value) ?? new Set();
    byFirst.set(first.value, set);
    sets.add(set);
  }
  return [...sets];
}
