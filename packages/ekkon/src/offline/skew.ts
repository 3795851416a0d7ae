import { grouped } from '../value/grouped.ts';
import { isInside } from './clocks.ts';
import type { MayChange, PlacedEvent } from './loose-order.ts';
import { byIdOf, inOrder, linkedBy, type Placed, parentsIn, type SpanEvent } from './spans.ts';

/** The order of the events of spans: whose clock told them, and which must come before which. */
export interface SpanOrder {
  /** Whether the later of two events may have come before the earlier one. */
  readonly mayChange: MayChange;
  /** Milliseconds between two events, as their clocks say. */
  apart(one: PlacedEvent, other: PlacedEvent): number;
}

/**
 * The order of spans as far as it is known: of one machine by its clock, and of two machines by parents and links, or
 * if their events are further apart than clocks may differ.
 *
 * @param skew milliseconds below which the order of two machines is not known
 */
export function orderOfSpans(placed: readonly Placed[], skew: number): SpanOrder {
  const events = inOrder(placed);
  const isBefore = knownOrder(placed, events);
  const at = ({ tick }: PlacedEvent) => events[tick - 1] as SpanEvent;
  const nanoseconds = BigInt(Math.round(skew * 1e6));
  return {
    mayChange(earlier, later) {
      const [one, other] = [at(earlier), at(later)];
      if (one.placed.machine === other.placed.machine) return false;
      if (isBefore(earlier.tick - 1, later.tick - 1)) return false;
      return timeOf(other) - timeOf(one) < nanoseconds;
    },
    apart: (one, other) => Math.abs(Number(timeOf(at(other)) - timeOf(at(one)))) / 1e6,
  };
}

/** When an event was, by its own clock. */
function timeOf({ placed, end }: SpanEvent): bigint {
  return end ? placed.end : placed.start;
}

/** Events of which all orders that follow from each other are worked out; of more only those that spans say themselves. */
const eventsAllowed = 6_000;

/**
 * Which of two events certainly comes first, whatever the clocks of different machines say: by one machine's clock,
 * because a span lies inside its parent and begins after its links, and by combinations of these.
 *
 * @returns whether one event, by its place, is known to come before another
 */
function knownOrder(
  placed: readonly Placed[],
  events: readonly SpanEvent[],
): (one: number, other: number) => boolean {
  const parentOf = parentsIn(placed);
  const byId = byIdOf(placed);
  const places = new Map<Placed, { begin: number; end: number }>();
  events.forEach(({ placed: each, end }, at) => {
    const known = places.get(each) ?? { begin: at, end: at };
    places.set(each, { ...known, [end ? 'end' : 'begin']: at });
  });
  /** The events that come right before one. */
  const sources = (at: number): readonly number[] => {
    const { placed: each, end } = events[at] as SpanEvent;
    const own = places.get(each) as { begin: number; end: number };
    if (end) return [own.begin, ...endsInside(each)];
    const parent = parentOf(each);
    const from = [...(parent === undefined ? [] : [parent]), ...linkedBy(each, byId)];
    return from.flatMap((source) => places.get(source)?.begin ?? []);
  };
  const children = grouped([...byId.values()], parentOf);
  const endsInside = (each: Placed) =>
    (children.get(each) ?? []).flatMap((child) =>
      isInside(child, each) ? (places.get(child)?.end ?? []) : [],
    );
  const before: bigint[] = [];
  const last = new Map<string, number>();
  for (let at = 0; at < Math.min(events.length, eventsAllowed); at++) {
    const { machine } = (events[at] as SpanEvent).placed;
    const previous = last.get(machine);
    last.set(machine, at);
    const from = [...(previous === undefined ? [] : [previous]), ...sources(at)];
    before[at] = from
      .filter((source) => source < at)
      .reduce((all, source) => all | (before[source] ?? 0n) | (1n << BigInt(source)), 0n);
  }
  return (one, other) => ((before[other] ?? 0n) >> BigInt(one)) % 2n === 1n;
}
