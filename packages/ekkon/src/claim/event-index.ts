import { isPrimitive } from '../record/is-primitive.ts';
import { callsOf, type HeldEvent, memberOf } from './event.ts';
import type { JudgedEntry } from './pattern.ts';

/** Finds the patterns that an entry may fit, by number: those of its member, less those that a glance rules out. */
export type EventIndex = (entry: JudgedEntry) => readonly number[];

interface OfMember {
  /** Patterns by the primitive that they claim as first argument. */
  readonly byFirst: Map<unknown, number[]>;
  /** Patterns that claim something else first, or nothing. */
  readonly others: number[];
  readonly all: number[];
}

/** Makes an index, so that an entry is held against few patterns where there are many. */
export function makeEventIndex(events: readonly HeldEvent[]): EventIndex {
  const byLabel = new Map<string, OfMember>();
  events.forEach((event, at) => {
    const { label } = memberOf(event);
    const known: OfMember = byLabel.get(label) ?? { byFirst: new Map(), others: [], all: [] };
    byLabel.set(label, known);
    known.all.push(at);
    const first = firstClaimed(event);
    if (first === undefined) known.others.push(at);
    else known.byFirst.set(first.value, [...(known.byFirst.get(first.value) ?? []), at]);
  });
  return ({ label, args }) => {
    const known = byLabel.get(label);
    if (known === undefined) return none;
    if (known.byFirst.size === 0 || args.length === 0 || !isPrimitive(args[0])) return known.all;
    const first = known.byFirst.get(args[0]) ?? none;
    return known.others.length === 0
      ? first
      : [...first, ...known.others].sort((one, other) => one - other);
  };
}

const none: readonly number[] = [];

/** The primitive that a pattern claims as first argument; nothing where it claims none, or something else. */
export function firstClaimed(event: HeldEvent): { readonly value: unknown } | undefined {
  const items = callsOf(event).claimed?.items ?? [];
  return items.length > 0 && isPrimitive(items[0]) ? { value: items[0] } : undefined;
}
