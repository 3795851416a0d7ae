import type { HeldDuring } from '../claim/during.ts';
import { type AnyParts, hearingOf, makeDuringParts } from '../claim/during-parts.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Heard, Hearing, HeldClaimBase } from '../claim/parts.ts';
import {
  fromFits,
  type InnerFold,
  innerFits,
  noStretches,
  passMarks,
  type Stretches,
  takeEvent,
  untilFits,
} from '../claim/stretches.ts';
import { type EventMatcher, makeEventMatcher } from '../pattern/event-matcher.ts';
import { eventsOf } from '../record/events.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { isMark } from '../record/mark.ts';
import { makeEvidence } from './evidence.ts';
import { Follower } from './follower.ts';

/** An event of a record: an entry's beginning or its end. */
interface Told {
  readonly entry: HeldEntry;
  readonly end: boolean;
  readonly tick: number;
}

/**
 * The entries that a claim covers: those with an event that matches one of its patterns, inside a stretch if it has
 * one. Only entries count that are covered in every way of deciding the undecided ones.
 *
 * @param events of the record, in order
 * @param add is given the ids
 */
export function addUsedIn(
  claim: HeldClaim,
  events: Iterable<Told>,
  add: (id: number) => void,
): void {
  const follower = new UseFollower(claim);
  for (const { entry, end, tick } of events) follower.tell(entry, end, tick);
  if (follower.isCertain) follower.addUsed(add);
  else addUsedInAll(claim, [...events], add);
}

/** The same, of a record up to a tick. */
export function addUsed(
  claim: HeldClaim,
  journal: Journal,
  to: number,
  add: (id: number) => void,
): void {
  addUsedIn(claim, eventsUpTo(journal, 1, to), add);
}

/** The entries that a claim covers as a record grows. */
export class GrowingUse {
  private readonly claim: HeldClaim;
  private readonly follower: UseFollower;
  private tick = 0;

  constructor(claim: HeldClaim) {
    this.claim = claim;
    this.follower = new UseFollower(claim);
  }

  /** Adds the ids of the entries that are covered so far. */
  addUsed(journal: Journal, add: (id: number) => void): void {
    if (this.tick === journal.tick) return;
    const fresh = eventsUpTo(journal, this.tick + 1, journal.tick);
    for (const { entry, end, tick } of fresh) this.follower.tell(entry, end, tick);
    this.tick = journal.tick;
    if (this.follower.isCertain) this.follower.addUsed(add);
    else addUsed(this.claim, journal, journal.tick, add);
  }
}

function eventsUpTo(journal: Journal, from: number, to: number): readonly Told[] {
  const events = eventsOf(journal);
  const found: Told[] = [];
  for (let tick = from; tick <= to; tick++) {
    const entry = events[tick - 1];
    if (entry !== undefined && !isMark(entry))
      found.push({ entry, end: entry.began !== tick, tick });
  }
  return found;
}

/** How many events are visited to ask for entries one by one; past that the claim, which is undecided, covers none. */
const eventsAllowed = 20_000_000;

/**
 * The entries that are used in every way of deciding where stretches begin and end. Each is checked on its own, by
 * judging that no stretch uses it.
 */
function addUsedInAll(claim: HeldClaim, events: readonly Told[], add: (id: number) => void): void {
  const { hears } = sparing(0);
  const evidence = makeEvidence(
    claim.journal,
    () => new Set(),
    () => [],
  );
  const matches = makeEventMatcher(hears(claim).events);
  const asked = new Set<number>();
  for (const { entry, end } of events) {
    const { fits, undecided } = matches(entry, end);
    if (fits.length + undecided.length > 0) asked.add(entry.id);
  }
  if (asked.size * events.length > eventsAllowed) return;
  for (const id of asked) {
    const follower = new Follower(claim, sparing(id));
    for (const { entry, end, tick } of events) follower.take(entry, end, tick);
    if (follower.judged(evidence) === 'fails') add(id);
  }
}

/** The parts of a claim that holds if none of its stretches uses an entry. */
function sparing(id: number): AnyParts {
  const within = makeDuringParts(partsWithin);
  return within as AnyParts;

  function partsWithin(claim: HeldClaimBase): AnyParts {
    const parts = partsOf(claim);
    if (parts.inner !== undefined) return within as AnyParts;
    return {
      ...parts,
      hears: () => ({ events: parts.uses(claim) }),
      start: () => false,
      take: (_, isUsed, { entry }) => isUsed === true || entry.id === id,
      same: (_, one, other) => one === other,
      stands: (_, isUsed) => (isUsed === true ? 'lost' : 'holds'),
      absent: () => undefined,
      closed: (_, isUsed) => isUsed,
      mindsBeginnings: () => false,
    };
  }
}

/** The ids of entries that a claim has used, the latest first. */
type Used = { readonly id: number; readonly next: Used } | undefined;

/** The fold that tells which entries a claim uses. */
interface UseFold<S> {
  readonly hearing: Hearing;
  /** The numbers of the patterns that bound stretches. */
  readonly bounds: ReadonlySet<number>;
  start(since: number): S;
  take(state: S, event: Heard): S;
  /** Everything used, as the record stands; in a stretch, before the tick at which that ended. */
  usedIn(state: S, before: number): readonly Used[];
}

/** Hears the events of a record, and then tells which entries a claim covers. */
export class UseFollower {
  /** Whether it is known of every event whether it begins or ends a stretch. */
  isCertain = true;
  private readonly fold: UseFold<unknown>;
  private readonly matches: EventMatcher;
  private state: unknown;

  constructor(claim: HeldClaim) {
    this.fold = useFold(claim);
    this.matches = makeEventMatcher(this.fold.hearing.events);
    this.state = this.fold.start(0);
  }

  tell(entry: HeldEntry, end: boolean, tick: number): void {
    const { fits, undecided } = this.matches(entry, end);
    if (undecided.some((at) => this.fold.bounds.has(at))) this.isCertain = false;
    if (fits.length > 0)
      this.state = this.fold.take(this.state, { entry, end, tick, fits, before: false });
  }

  /** Adds the ids of the used entries, as the record stands. Call it only if the result is certain. */
  addUsed(add: (id: number) => void): void {
    for (const used of this.fold.usedIn(this.state, Number.POSITIVE_INFINITY))
      for (let left = used; left !== undefined; left = left.next) add(left.id);
  }
}

function useFold(claim: HeldClaimBase): UseFold<unknown> {
  if (partsOf(claim).inner !== undefined) return duringFold(claim as HeldDuring);
  const fold: UseFold<Used> = {
    hearing: { events: partsOf(claim).uses(claim) },
    bounds: new Set(),
    start: () => undefined,
    take: (next, { entry }) => ({ id: entry.id, next }),
    usedIn: (used) => [used],
  };
  return fold as UseFold<unknown>;
}

/** The entries used in ended stretches, one list after the other, so adding one costs no more than its length. */
type UsedLists = { readonly used: readonly Used[]; readonly next: UsedLists } | undefined;

function duringFold(claim: HeldDuring): UseFold<unknown> {
  const inner = useFold(claim.inner);
  const stretches: InnerFold<unknown, UsedLists> = {
    start: (since) => inner.start(since),
    take: (state, event) => inner.take(state, event),
    same: (one, other) => one === other,
    ended: (next, state, { before }) => ({ used: inner.usedIn(state, before), next }),
    mindsBeginnings: false,
    beginnings: undefined,
  };
  const fold: UseFold<Stretches<unknown, UsedLists>> = {
    hearing: hearingOf(claim, inner.hearing),
    bounds: new Set([fromFits, untilFits, ...[...inner.bounds].map((at) => at + innerFits)]),
    start: (since) =>
      noStretches<unknown, UsedLists>(claim, stretches, since, undefined, undefined),
    take: (state, event) => takeEvent(claim, stretches, state, event),
    usedIn(state, before) {
      const { open, result } = passMarks(claim, stretches, state, before);
      const used = claim.endedOnly
        ? []
        : open.flatMap((each) => [...inner.usedIn(each.state, before)]);
      for (let lists = result; lists !== undefined; lists = lists.next) used.push(...lists.used);
      return used;
    },
  };
  return fold as UseFold<unknown>;
}
