import type { Alteration } from '../explain/cause.ts';
import type { Outcome } from '../record/entry.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import {
  alteredEntry,
  type Change,
  madeDuring,
  madeIn,
  type RecordedEvent,
  tickBehind,
} from './change.ts';
import { freshValue, leavesOf, withLeaf } from './leaves.ts';

/** One way in which a record could have been another, that its claims should notice. */
export interface RecordAlteration {
  readonly alteration: Extract<Alteration, 'drop' | 'repeat' | 'move' | 'argument' | 'outcome'>;
  readonly entry: HeldEntry;
  /** Where in the arguments, or in the outcome, a value is replaced. */
  readonly path: readonly PropertyKey[];
  readonly change: Change;
  /** The call that an entry was made after, and that it began before now. */
  readonly waitedFor?: HeldEntry;
}

/** The parts of a record that may be changed, and those that the test itself supplied. */
export interface Altering {
  /** Whether the entries of a double count. */
  counts(double: string): boolean;
  /** Whether an entry is of a real member, and nothing that the test planned answered it. */
  isReal(entry: HeldEntry): boolean;
}

/**
 * Every alteration of a record that counts: a call dropped with all that was made in it; repeated right after its
 * end; begun before the call it waited for had ended; one leaf of its arguments replaced by a fresh value of its type;
 * and, of real members, the outcome.
 */
export function* alterationsOf(
  journal: Journal,
  events: readonly RecordedEvent[],
  altering: Altering,
): Generator<RecordAlteration> {
  const before = eventsBefore(events);
  const made = madeDuring(journal);
  for (const entry of journal.entries) {
    if (!isCounted(entry) || !altering.counts(entry.target.double)) continue;
    const about = { entry, path: [] };
    yield {
      ...about,
      alteration: 'drop',
      change: { without: [entry, ...madeIn(made, entry)], added: [] },
    };
    yield {
      ...about,
      alteration: 'repeat',
      change: { without: [], added: [repeated(journal, entry)] },
    };
    yield* moved(entry, before.get(entry));
    yield* withArguments(entry);
    if (altering.isReal(entry)) yield* withOutcome(entry);
  }
}

/** Calls and writes only: the test supplies stream items and reads. */
function isCounted({ kind }: HeldEntry): boolean {
  return kind === 'call' || kind === 'construct' || kind === 'write';
}

/** For each entry the event right before its beginning. */
function eventsBefore(events: readonly RecordedEvent[]): ReadonlyMap<HeldEntry, RecordedEvent> {
  const found = new Map<HeldEntry, RecordedEvent>();
  events.forEach(({ entry, end }, at) => {
    const before = events[at - 1];
    if (!end && before !== undefined) found.set(entry, before);
  });
  return found;
}

function repeated({ entries }: Journal, entry: HeldEntry): HeldEntry {
  const last = entry.ended ?? entry.began;
  return alteredEntry(
    { ...entry, id: entries.length + 1 },
    {
      began: tickBehind(last, 1),
      ended: entry.ended === undefined ? undefined : tickBehind(last, 2),
    },
  );
}

/** An entry that was the first to begin after a promise had settled, begun right before that. */
function* moved(entry: HeldEntry, before: RecordedEvent | undefined): Generator<RecordAlteration> {
  if (before === undefined || !before.end || before.entry.id === entry.parent) return;
  const { state } = before.entry.outcome;
  if (state !== 'fulfilled' && state !== 'rejected') return;
  const early = alteredEntry(entry, { began: tickBehind(before.tick - 1, 512) });
  yield {
    alteration: 'move',
    entry,
    path: [],
    change: { without: [entry], added: [early] },
    waitedFor: before.entry,
  };
}

function* withArguments(entry: HeldEntry): Generator<RecordAlteration> {
  for (const { path, value } of leavesOf(entry.args)) {
    const args = withLeaf(entry.args, path, freshValue(value, entry.id)) as readonly unknown[];
    yield {
      alteration: 'argument',
      entry,
      path,
      change: { without: [entry], added: [alteredEntry(entry, { args })] },
    };
  }
}

function* withOutcome(entry: HeldEntry): Generator<RecordAlteration> {
  const outcome = otherOutcome(entry.outcome, entry.id);
  if (outcome === undefined) return;
  yield {
    alteration: 'outcome',
    entry,
    path: [],
    change: { without: [entry], added: [alteredEntry(entry, { outcome })] },
  };
}

function otherOutcome(outcome: Outcome, number: number): Outcome | undefined {
  switch (outcome.state) {
    case 'returned':
    case 'fulfilled': {
      const [leaf] = leavesOf(outcome.value);
      if (leaf === undefined) return undefined;
      const value = withLeaf(outcome.value, leaf.path, freshValue(leaf.value, number));
      return { ...outcome, value };
    }
    case 'threw':
    case 'rejected':
      return { ...outcome, reason: new Error(`fresh ${number}`) };
    case 'running':
    case 'pending':
      return undefined;
  }
}

/** Two calls that could have come in the other order. */
export interface Swap {
  readonly one: HeldEntry;
  readonly other: HeldEntry;
  readonly change: Change;
}

/** Two neighbouring events of calls that overlap, neither of which was made in the other, in the other order. */
export function* independentSwaps(
  journal: Journal,
  events: readonly RecordedEvent[],
): Generator<Swap> {
  const byId = new Map(journal.entries.map((entry) => [entry.id, entry]));
  for (let at = 1; at < events.length; at++) {
    const [first, second] = [events[at - 1], events[at]];
    if (first === undefined || second === undefined) continue;
    const [one, other] = [first.entry, second.entry];
    if (!isCounted(one) || !isCounted(other) || one === other) continue;
    if (!overlap(one, other) || isWithin(one, other, byId) || isWithin(other, one, byId)) continue;
    const change = {
      without: [one, other],
      added: [atTick(one, first, second.tick), atTick(other, second, first.tick)],
    };
    yield { one, other, change };
  }
}

/** Two calls, one right after the other on another double, that both returned at once and made nothing, in the other order. */
export function* neighbourSwaps(
  events: readonly RecordedEvent[],
  altering: Altering,
): Generator<Swap> {
  const counts = ({ entry, end }: RecordedEvent) =>
    !end &&
    isCounted(entry) &&
    entry.outcome.state === 'returned' &&
    altering.counts(entry.target.double);
  for (let at = 3; at < events.length; at++) {
    const [begins, ends, then, over] = events.slice(at - 3, at + 1);
    if (begins === undefined || ends === undefined || then === undefined || over === undefined)
      continue;
    const [one, other] = [begins.entry, then.entry];
    if (!counts(begins) || !counts(then) || ends.entry !== one || over.entry !== other) continue;
    if (one.target.double === other.target.double) continue;
    const change = {
      without: [one, other],
      added: [
        alteredEntry(one, { began: then.tick, ended: over.tick }),
        alteredEntry(other, { began: begins.tick, ended: ends.tick }),
      ],
    };
    yield { one, other, change };
  }
}

function atTick(entry: HeldEntry, { end }: RecordedEvent, tick: number): HeldEntry {
  return alteredEntry(entry, end ? { ended: tick } : { began: tick });
}

function overlap(one: HeldEntry, other: HeldEntry): boolean {
  const forever = Number.POSITIVE_INFINITY;
  return one.began < (other.ended ?? forever) && other.began < (one.ended ?? forever);
}

/** Whether an entry was made while a call was running, or in a call that was. */
function isWithin(
  entry: HeldEntry,
  outer: HeldEntry,
  byId: ReadonlyMap<number, HeldEntry>,
): boolean {
  for (let at = entry.parent; at !== undefined; at = byId.get(at)?.parent)
    if (at === outer.id) return true;
  return false;
}
