import type { MayChange, PlacedEvent } from './loose-order.ts';
import { inOrder, linkedBy, type Placed, type SpanEvent } from './spans.ts';

/** How the events of spans lie to each other: whose clock told them, and what has to come before what. */
export interface SpanOrder {
  /** Whether the later of two events may have come before the earlier one. */
  readonly mayChange: MayChange;
  /** Milliseconds between two events, as their clocks say. */
  apart(one: PlacedEvent, other: PlacedEvent): number;
}

/**
 * The order of spans as far as it is known: of one machine by its clock, and of two by what they say of each other,
 * or if they are apart by more than clocks may differ.
 *
 * @param skew milliseconds below which the order of two machines is not known
 */
export function orderOfSpans(placed: readonly Placed[], skew: number): SpanOrder {
  const events = inOrder(placed);
  const byId = new Map(
    placed.map((each) => [`${each.span.traceId} ${each.span.spanId}`, each] as const),
  );
  const at = ({ tick }: PlacedEvent) => events[tick - 1] as SpanEvent;
  const nanoseconds = BigInt(Math.round(skew * 1e6));
  return {
    mayChange(earlier, later) {
      const [one, other] = [at(earlier), at(later)];
      if (one.placed.machine === other.placed.machine) return false;
      if (timeOf(other) - timeOf(one) >= nanoseconds) return false;
      return one.end || other.end || !comesFrom(other.placed, one.placed, byId);
    },
    apart: (one, other) => Math.abs(Number(timeOf(at(other)) - timeOf(at(one)))) / 1e6,
  };
}

/** When an event was, by its own clock. */
function timeOf({ placed, end }: SpanEvent): bigint {
  return end ? placed.end : placed.start;
}

/** Whether a span is inside another, or follows from it. */
function comesFrom(
  placed: Placed,
  other: Placed,
  byId: ReadonlyMap<string, Placed>,
  seen: Set<Placed> = new Set(),
): boolean {
  if (seen.has(placed)) return false;
  seen.add(placed);
  const { traceId, parentSpanId } = placed.span;
  const parent = parentSpanId ? byId.get(`${traceId} ${parentSpanId}`) : undefined;
  const sources = [...(parent === undefined ? [] : [parent]), ...linkedBy(placed, byId)];
  return sources.some((source) => source === other || comesFrom(source, other, byId, seen));
}
