import { isOf } from '../../record/member.ts';
import { eventFit, type HeldEvent, isEnd, memberOf } from '../event.ts';
import { makeEventIndex } from '../event-index.ts';
import type { JudgedEntry } from '../pattern.ts';
import { type Window, within } from '../window.ts';
import type { EventClass } from './expression.ts';
import type { Sequence } from './sequence.ts';

/** An event that the sequence has to do with. */
export interface SequenceEvent {
  readonly entry: JudgedEntry;
  readonly tick: number;
  readonly end: boolean;
  readonly class: EventClass;
  /** For a beginning: ends that have to know which leaf took it. For an end: leaves that take it if so. */
  readonly depends: readonly number[];
}

/** The events of a record that a sequence has to do with, in order, and the entries it cannot tell of. */
export function eventsFor(
  sequence: Sequence,
  entries: readonly JudgedEntry[],
  window: Window,
): { readonly events: readonly SequenceEvent[]; readonly undecided: readonly JudgedEntry[] } {
  const undecided = new Set<JudgedEntry>();
  const read = makeEventReader(sequence, undecided);
  const events: SequenceEvent[] = [];
  for (const entry of entries) {
    for (const end of bothMoments) {
      const event = isWithin(window, entry, end) ? read(entry, end) : undefined;
      if (event !== undefined) events.push(event);
    }
  }
  if (sequence.leaves.some(isEnd)) events.sort((one, other) => one.tick - other.tick);
  return { events, undecided: [...undecided] };
}

const bothMoments = [false, true];

/**
 * Reads events one by one, a call's end after its beginning; nothing for those that have no part in the
 * sequence.
 *
 * @param undecided gets the entries of which it cannot be told
 */
export function makeEventReader(
  sequence: Sequence,
  undecided: Set<JudgedEntry>,
): (entry: JudgedEntry, end: boolean) => SequenceEvent | undefined {
  const classify = makeClassifier(sequence, undecided);
  const knowsBeginnings = sequence.beginnings.some(({ size }) => size > 0);
  const begunBy = new Map<number, ReadonlySet<number>>();
  return (entry, end) => {
    const found = classify(entry, end);
    if (!end) {
      if (found === undefined) return undefined;
      const { leaves } = found;
      if (knowsBeginnings) begunBy.set(entry.id, leaves);
      const depends = endsToKnow(sequence, leaves);
      return { entry, tick: entry.began, end, class: found, depends };
    }
    const by = begunBy.get(entry.id) ?? noLeaves;
    begunBy.delete(entry.id);
    if (found === undefined || entry.ended === undefined) return undefined;
    const { sure, depends } = endLeaves(sequence, found.leaves, by);
    return { entry, tick: entry.ended, end, class: sequence.classFor(sure), depends };
  };
}

const noLeaves: ReadonlySet<number> = new Set();

/** The ends that have to know which of several leaves took a beginning. */
function endsToKnow({ beginnings }: Sequence, taking: ReadonlySet<number>): readonly number[] {
  if (taking.size < 2) return [];
  return beginnings.flatMap((own, at) => {
    const equal = [...taking].filter((leaf) => own.has(leaf));
    return equal.length > 0 && equal.length < taking.size ? [at] : [];
  });
}

/** Of the leaves that an end fits: those that surely take it, and those for which it depends on who took its beginning. */
function endLeaves(
  { beginnings }: Sequence,
  fitting: ReadonlySet<number>,
  begunBy: ReadonlySet<number>,
): { readonly sure: readonly number[]; readonly depends: readonly number[] } {
  const sure: number[] = [];
  const depends: number[] = [];
  for (const leaf of fitting) {
    const own = beginnings[leaf] ?? noLeaves;
    const equal = [...begunBy].filter((begin) => own.has(begin));
    if (own.size === 0 || (equal.length > 0 && equal.length === begunBy.size)) sure.push(leaf);
    else if (equal.length > 0) depends.push(leaf);
  }
  return { sure, depends };
}

/** Visits the events, entry by entry: a call's end right after its beginning. Gives those it cannot tell of. */
export function visitEvents(
  sequence: Sequence,
  entries: readonly JudgedEntry[],
  window: Window,
  visit: (eventClass: EventClass) => void,
): readonly JudgedEntry[] {
  const undecided = new Set<JudgedEntry>();
  const classify = makeClassifier(sequence, undecided);
  for (const entry of entries) {
    for (const end of bothMoments) {
      const found = isWithin(window, entry, end) ? classify(entry, end) : undefined;
      if (found !== undefined) visit(found);
    }
  }
  return [...undecided];
}

function isWithin(window: Window, { began, ended }: JudgedEntry, end: boolean): boolean {
  const tick = end ? ended : began;
  return tick !== undefined && within(window, tick);
}

/** Tells which leaves take an entry's beginning or its end; nothing for what has no part in the sequence. */
function makeClassifier(
  sequence: Sequence,
  undecided: Set<JudgedEntry>,
): (entry: JudgedEntry, end: boolean) => EventClass | undefined {
  const { leaves } = sequence;
  const ofLabel = makeLookup(sequence);
  const candidates = makeEventIndex(leaves);

  function takes(at: number, entry: JudgedEntry, end: boolean): boolean {
    const leaf = leaves[at] as HeldEvent;
    return isEnd(leaf) === end && fitsLeaf(leaf, entry, undecided);
  }

  return (entry, end) => {
    const { begins, ends } = ofLabel(entry.label);
    const asked = end ? ends : begins;
    if (asked === undefined) return undefined;
    const isCall = entry.kind === 'call' || entry.kind === 'construct';
    if (isCall && asked.always !== undefined) return asked.always;
    return asked.classOf(candidates(entry).filter((at) => takes(at, entry, end)));
  };
}

function fitsLeaf(leaf: HeldEvent, entry: JudgedEntry, undecided: Set<JudgedEntry>): boolean {
  const fit = eventFit(leaf, entry);
  if (fit === 'undecided') undecided.add(entry);
  return fit === 'fits';
}

/** What to ask of the beginnings, or of the ends, of a label's entries. */
interface Asked {
  /** The class of a call, where nothing has to be asked of its arguments. */
  readonly always: EventClass | undefined;
  /** The class by the leaves that do take it; `undefined` where the event has no part in the sequence. */
  readonly classOf: (numbers: readonly number[]) => EventClass | undefined;
}

/** Finds what to ask of a label's entries, once for each label. */
function makeLookup({ leaves, watched, classFor }: Sequence): (label: string) => {
  readonly begins: Asked | undefined;
  readonly ends: Asked | undefined;
} {
  const known = new Map<string, { begins: Asked | undefined; ends: Asked | undefined }>();

  function asked(label: string, end: boolean): Asked | undefined {
    const begins = end ? undefined : doubleOf(label, watched);
    const numbers = leaves.flatMap((leaf, at) =>
      memberOf(leaf).label === label && isEnd(leaf) === end ? [at] : [],
    );
    if (numbers.length === 0 && begins === undefined) return undefined;
    const classOf = (taking: readonly number[]): EventClass | undefined =>
      taking.length === 0 && begins === undefined ? undefined : classFor(taking, begins);
    const asksNothing = numbers.every((at) => takesEveryCall(leaves[at] as HeldEvent));
    return {
      always: asksNothing && numbers.length > 0 ? classOf(numbers) : undefined,
      classOf,
    };
  }

  return (label) => {
    const found = known.get(label) ?? { begins: asked(label, false), ends: asked(label, true) };
    known.set(label, found);
    return found;
  };
}

/** Whether a pattern takes every call of its member. */
function takesEveryCall(leaf: HeldEvent): boolean {
  return !isEnd(leaf) && leaf.of === 'call' && leaf.claimed === undefined;
}

/** The double of a label that is watched. */
function doubleOf(label: string, watched: ReadonlySet<string>): string | undefined {
  for (const double of watched) if (isOf(label, double)) return double;
  return undefined;
}
