import { matchingOf } from '../match/matcher.ts';
import type { HeldEntry } from '../record/journal.ts';
import { isPrimitive } from '../value/is-primitive.ts';
import { callsOf, type HeldEvent, isAtEnd, targetOf } from './event.ts';
import { PartsIndex } from './parts-index.ts';

/** Those whose patterns are of one target and moment: by the primitive that they claim as first argument, or not. */
export class TargetIndex<T> {
  private readonly byFirst = new Map<unknown, PartsIndex<T>>();
  private readonly rest = new PartsIndex<T>(0);

  /** The sets that a listener for some events must join so that it is found once. */
  setsFor(events: readonly HeldEvent[]): readonly Set<T>[] {
    const firsts = events.map(firstClaimed);
    const [only, another] = events;
    if (only !== undefined && another === undefined) return this.indexFor(firsts[0]).setsFor(only);
    if (firsts.includes(undefined)) return this.rest.setsForAny();
    const indexes = new Set(firsts.map((first) => this.indexFor(first)));
    return [...indexes].flatMap((index) => index.setsForAny());
  }

  /** Whether it always finds all of them. */
  get findsAll(): boolean {
    return this.byFirst.size === 0 && this.rest.findsAll;
  }

  /** Those whose patterns an entry may fit, less those that a glance rules out: each once, in one of these sets. */
  find(entry: HeldEntry): readonly ReadonlySet<T>[] {
    const { args } = entry;
    const rest = this.rest.find(entry);
    if (this.byFirst.size === 0) return [rest];
    if (isPrimitive(args[0])) {
      const found = this.byFirst.get(args[0])?.find(entry);
      return found === undefined ? [rest] : [rest, found];
    }
    // A value that is not primitive may stand for one that was not recorded, and match any pattern.
    const all = [...this.byFirst.values()].flatMap((index) => [...index.all]);
    return [rest, new Set(all)];
  }

  private indexFor(first: First | undefined): PartsIndex<T> {
    if (first === undefined) return this.rest;
    const known = this.byFirst.get(first.value) ?? new PartsIndex<T>(1);
    this.byFirst.set(first.value, known);
    return known;
  }
}

/** Finds the patterns that an event may fit, by number: those of its target and moment, less those that a glance rules out. */
export type PatternIndex = (entry: HeldEntry, end: boolean) => readonly number[];

/** Makes an index, so an event is compared with few patterns if there are many. */
export function makePatternIndex(events: readonly (HeldEvent | undefined)[]): PatternIndex {
  const begins: (Numbered | undefined)[] = [];
  const ends: (Numbered | undefined)[] = [];
  events.forEach((event, at) => {
    if (event === undefined) return;
    const side = isAtEnd(event) ? ends : begins;
    const { number } = targetOf(event);
    const known = side[number] ?? { index: new TargetIndex<number>(), all: [] };
    side[number] = known;
    known.all.push(at);
    for (const set of known.index.setsFor([event])) set.add(at);
  });
  return (entry, end) => {
    const known = (end ? ends : begins)[entry.target.number];
    if (known === undefined) return none;
    if (known.index.findsAll) return known.all;
    const found = known.index.find(entry).flatMap((each) => [...each]);
    return found.length < 2 ? found : found.sort((one, other) => one - other);
  };
}

/** The patterns that some event of an entry may fit: its beginning, or its end. */
export function patternsOf(index: PatternIndex, entry: HeldEntry): readonly number[] {
  return [...index(entry, false), ...index(entry, true)];
}

/** The patterns of one target and moment, by number. */
interface Numbered {
  readonly index: TargetIndex<number>;
  readonly all: number[];
}

const none: readonly never[] = [];

interface First {
  readonly value: unknown;
}

/** The primitive that a pattern claims as first argument; nothing if it claims none, or something else. */
function firstClaimed(event: HeldEvent): First | undefined {
  const items = callsOf(event).claimed?.items ?? none;
  return items.length > 0 && isPrimitive(items[0]) ? { value: items[0] } : undefined;
}

/**
 * A key of patterns that mean the same, as far as it can be looked up: the primitive that they expect as first
 * argument, or the function in a matcher in its place.
 */
export function firstKey(event: HeldEvent): unknown {
  const [first] = callsOf(event).claimed?.items ?? none;
  if (isPrimitive(first)) return first;
  const [parameter] = matchingOf(first)?.parameters ?? none;
  return typeof parameter === 'function' ? parameter : noKey;
}

const noKey: unique symbol = Symbol('no key');
