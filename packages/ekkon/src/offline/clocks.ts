import type { Placed } from './spans.ts';

/** The known bounds of how far one clock is ahead of another, in nanoseconds. */
interface Ahead {
  least: bigint;
  most: bigint;
}

/** Kinds of spans, as OTLP numbers and names them: of who answers a call, and of who made it. */
const server: ReadonlySet<unknown> = new Set([2, 'SPAN_KIND_SERVER']);
const client: ReadonlySet<unknown> = new Set([3, 'SPAN_KIND_CLIENT']);

/**
 * Whether a span lies inside its parent as a whole: a caller waits for the answer. Other spans may go on after their
 * parent: messages, tasks.
 */
export function isInside({ span: { kind }, ...placed }: Placed, parent: Placed): boolean {
  if (!server.has(kind) || !client.has(parent.span.kind)) return false;
  return placed.end - placed.start <= parent.end - parent.start;
}

/**
 * How far the clocks of machines are off, as far as spans show it: one that lies inside its parent and seems to begin before
 * it, or to end after it, was told by a clock that is off. Each trace narrows the bounds.
 */
export class Clocks {
  private readonly ahead = new Map<string, Map<string, Ahead>>();
  /** The machine of the first span that belongs to no other, and of the first whose parent is not there. */
  private first: string | undefined;
  private orphans: string | undefined;

  /** Learns from the spans of one trace. */
  learn(spans: readonly Placed[], parentOf: (placed: Placed) => Placed | undefined): void {
    for (const placed of spans) {
      const parent = parentOf(placed);
      if (parent === undefined) {
        if (placed.span.parentSpanId) this.orphans ??= placed.machine;
        else this.first ??= placed.machine;
      } else if (parent.machine !== placed.machine && isInside(placed, parent))
        this.bound(parent, placed);
    }
  }

  private bound(parent: Placed, placed: Placed): void {
    const least = placed.end - parent.end;
    const most = placed.start - parent.start;
    const known = this.ahead.get(parent.machine) ?? new Map<string, Ahead>();
    this.ahead.set(parent.machine, known);
    const before = known.get(placed.machine);
    if (before === undefined) {
      known.set(placed.machine, { least, most });
      return;
    }
    const narrowed = {
      least: before.least > least ? before.least : least,
      most: before.most < most ? before.most : most,
    };
    // A clock that was set meanwhile is as this trace shows it.
    const isKnown = narrowed.least <= narrowed.most;
    known.set(placed.machine, isKnown ? narrowed : { least, most });
  }

  /** How far each clock is ahead of that of the machine on which the first trace began, in nanoseconds: those that are off. */
  off(): ReadonlyMap<string, bigint> {
    const found = new Map<string, bigint>();
    const first = this.first ?? this.orphans;
    if (first === undefined) return found;
    const reached = new Map([[first, 0n]]);
    for (const [machine, ahead] of reached) {
      for (const [other, bounds] of this.from(machine)) {
        if (reached.has(other)) continue;
        reached.set(other, ahead + likely(bounds));
      }
    }
    for (const [machine, ahead] of reached) if (ahead !== 0n) found.set(machine, ahead);
    return found;
  }

  /** The known offsets of other clocks from a machine's, in either direction. */
  private from(machine: string): readonly (readonly [string, Ahead])[] {
    const back = [...this.ahead].flatMap(([other, known]) => {
      const bounds = known.get(machine);
      return bounds === undefined
        ? []
        : [[other, { least: -bounds.most, most: -bounds.least }] as const];
    });
    return [...(this.ahead.get(machine) ?? []), ...back];
  }
}

/** A clock that may be right counts as right; otherwise it is in the middle of its bounds. */
function likely({ least, most }: Ahead): bigint {
  return least <= 0n && most >= 0n ? 0n : (least + most) / 2n;
}

/** Spans with the times that they would have by the first machine's clock. */
export function corrected(
  spans: readonly Placed[],
  off: ReadonlyMap<string, bigint>,
): readonly Placed[] {
  return spans.map((placed) => {
    const ahead = off.get(placed.machine);
    if (ahead === undefined) return placed;
    return { ...placed, start: placed.start - ahead, end: placed.end - ahead };
  });
}
