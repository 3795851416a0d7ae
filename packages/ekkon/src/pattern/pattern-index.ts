import { matchingOf } from '../match/matcher.ts';
import { isPrimitive } from '../record/is-primitive.ts';
import type { HeldEntry } from '../record/journal.ts';
import { callsOf, type HeldEvent, isAtEnd, targetOf } from './event.ts';
import { PartsIndex } from './parts-index.ts';

/** Finds the patterns that an event may fit, by number: those of its target and moment, less those that a glance rules out. */
export type PatternIndex = (entry: HeldEntry, end: boolean) => readonly number[];

interface OfTarget {
  /** Patterns by the primitive that they claim as first argument. */
  readonly byFirst: Map<unknown, number[]>;
  /** Patterns that claim an object first, by what it holds. */
  readonly byParts: PartsIndex<number>;
  /** Patterns that claim something else first, or nothing. */
  readonly others: number[];
  readonly all: number[];
}

/** Makes an index, so that an event is held against few patterns if there are many. */
export function makePatternIndex(events: readonly (HeldEvent | undefined)[]): PatternIndex {
  const begins: (OfTarget | undefined)[] = [];
  const ends: (OfTarget | undefined)[] = [];
  events.forEach((event, at) => {
    if (event === undefined) return;
    const side = isAtEnd(event) ? ends : begins;
    const { number } = targetOf(event);
    const known: OfTarget = side[number] ?? {
      byFirst: new Map(),
      byParts: new PartsIndex(),
      others: [],
      all: [],
    };
    side[number] = known;
    known.all.push(at);
    const first = firstClaimed(event);
    const parts = first === undefined ? known.byParts.setsFor(event) : undefined;
    if (parts !== undefined) for (const set of parts) set.add(at);
    else if (first === undefined) known.others.push(at);
    else {
      const list = known.byFirst.get(first.value);
      if (list === undefined) known.byFirst.set(first.value, [at]);
      else list.push(at);
    }
  });
  return (entry, end) => {
    const { target, args } = entry;
    const known = (end ? ends : begins)[target.number];
    if (known === undefined) return none;
    const { byFirst, byParts, others, all } = known;
    if (all.length === others.length || args.length === 0) return all;
    const isTold = isPrimitive(args[0]);
    const found = [
      ...others,
      ...(isTold ? (byFirst.get(args[0]) ?? none) : [...byFirst.values()].flat()),
      ...byParts.find(entry),
    ];
    return found.sort((one, other) => one - other);
  };
}

const none: readonly never[] = [];

/** The primitive that a pattern claims as first argument; nothing if it claims none, or something else. */
export function firstClaimed(event: HeldEvent): { readonly value: unknown } | undefined {
  const items = callsOf(event).claimed?.items ?? none;
  return items.length > 0 && isPrimitive(items[0]) ? { value: items[0] } : undefined;
}

/**
 * What patterns that mean the same have in common, as far as it can be looked up: the primitive that they claim
 * as first argument, or the function that a matcher in its place holds.
 */
export function firstKey(event: HeldEvent): unknown {
  const [first] = callsOf(event).claimed?.items ?? none;
  if (isPrimitive(first)) return first;
  const [parameter] = matchingOf(first)?.parameters ?? none;
  return typeof parameter === 'function' ? parameter : noKey;
}

const noKey: unique symbol = Symbol('no key');
