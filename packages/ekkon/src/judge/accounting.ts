import type { HeldDuring } from '../claim/during.ts';
import { hearingOf } from '../claim/during-parts.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Heard, Hearing, HeldClaimBase } from '../claim/parts.ts';
import {
  fromFits,
  type InnerFold,
  noStretches,
  passMarks,
  type Stretches,
  takeEvent,
  untilFits,
} from '../claim/stretches.ts';
import { type EventMatcher, makeEventMatcher } from '../pattern/event-matcher.ts';
import { samePattern } from '../pattern/same-pattern.ts';
import { eventsOf } from '../record/events.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { isMark } from '../record/mark.ts';

/** The ids of entries that a claim has used, the latest first. */
type Used = { readonly id: number; readonly next: Used } | undefined;

/** What is folded to know which entries a claim uses. */
interface UseFold<S> {
  readonly hearing: Hearing;
  start(since: number): S;
  take(state: S, event: Heard): S;
  /** Everything used, as the record stands; in a stretch, before the tick at which that ended. */
  usedIn(state: S, before: number): readonly Used[];
}

/**
 * The entries that a claim accounts for: those of which an event fits one of its patterns and lies inside a
 * stretch, if it has one. Only what is so in every way of deciding the undecided entries counts: those are
 * taken not to fit, and to end a stretch.
 *
 * @param to the last tick that counts
 * @param add is given the ids
 */
export function addUsed(
  claim: HeldClaim,
  journal: Journal,
  to: number,
  add: (id: number) => void,
): void {
  const follower = new UseFollower(claim);
  const events = eventsOf(journal);
  for (let tick = 1; tick <= to; tick++) {
    const entry = events[tick - 1];
    if (entry !== undefined && !isMark(entry)) follower.tell(entry, entry.began !== tick, tick);
  }
  follower.addUsed(add);
}

/** Hears the events of a record, and tells then which entries a claim accounts for. */
export class UseFollower {
  private readonly maybes = new Set<number>();
  private readonly fold: UseFold<unknown>;
  private readonly matches: EventMatcher;
  private state: unknown;

  constructor(claim: HeldClaim) {
    this.fold = useFold(claim, this.maybes);
    this.matches = makeEventMatcher(this.fold.hearing.events);
    this.state = this.fold.start(0);
  }

  tell(entry: HeldEntry, end: boolean, tick: number): void {
    const { fits: certain, undecided } = this.matches(entry, end);
    const mayClose = undecided.filter((at) => this.fold.hearing.closing?.has(at) === true);
    if (mayClose.length > 0) this.maybes.add(tick);
    const fits = mayClose.length === 0 ? certain : [...certain, ...mayClose].sort((a, b) => a - b);
    if (fits.length > 0)
      this.state = this.fold.take(this.state, { entry, end, tick, fits, before: false });
  }

  /** Gives the ids of what was used, as the record stands. */
  addUsed(add: (id: number) => void): void {
    for (const used of this.fold.usedIn(this.state, Number.POSITIVE_INFINITY))
      for (let left = used; left !== undefined; left = left.next) add(left.id);
  }
}

/** @param maybes the ticks at which a stretch may have ended, and it is not known whether one has */
function useFold(claim: HeldClaimBase, maybes: ReadonlySet<number>): UseFold<unknown> {
  if (partsOf(claim).inner !== undefined) return duringFold(claim as HeldDuring, maybes);
  const fold: UseFold<Used> = {
    hearing: { events: partsOf(claim).uses(claim) },
    start: () => undefined,
    take: (next, { entry }) => ({ id: entry.id, next }),
    usedIn: (used) => [used],
  };
  return fold as UseFold<unknown>;
}

/** What was used in stretches, one list after the other: what is added costs no more than that. */
type UsedLists = { readonly used: readonly Used[]; readonly next: UsedLists } | undefined;

/** What was used in stretches that have ended, and in those of which it is not known whether they have. */
interface UsedSoFar {
  readonly surely: UsedLists;
  readonly maybe: readonly Used[];
}

const nothingUsed: UsedSoFar = { surely: undefined, maybe: [] };

function duringFold(claim: HeldDuring, maybes: ReadonlySet<number>): UseFold<unknown> {
  const inner = useFold(claim.inner, maybes);
  const { endedOnly, isOwnEnd } = claim;
  const stretches: InnerFold<unknown, UsedSoFar> = {
    start: (since) => inner.start(since),
    take: (state, event) => inner.take(state, event),
    same: (one, other) => one === other,
    ended({ surely, maybe }, state, { before }) {
      const used = inner.usedIn(state, before);
      if (endedOnly && maybes.has(before)) return { surely, maybe: [...maybe, ...used] };
      // One that had not ended before has ended now, unless each call ends its own.
      const known = isOwnEnd ? used : [...used, ...maybe];
      return { surely: { used: known, next: surely }, maybe: [] };
    },
    mindsBeginnings: false,
    beginnings: undefined,
  };
  const begins = beginsWhatItEnds(claim);
  const fold: UseFold<Stretches<unknown, UsedSoFar>> = {
    hearing: hearingOf(claim, inner.hearing),
    start: (since) =>
      noStretches<unknown, UsedSoFar>(claim, stretches, since, undefined, nothingUsed),
    take(state, event) {
      // If what may end a stretch would begin the next as well, there is one in either case.
      const isEither = begins && maybes.has(event.tick) && state.open.length > 0;
      const goesOn = isEither && event.fits.includes(untilFits);
      const heard = goesOn ? { ...event, fits: [fromFits, ...event.fits] } : event;
      return takeEvent(claim, stretches, state, heard);
    },
    usedIn(state, before) {
      const { open, result } = passMarks(claim, stretches, state, before);
      const surely: Used[] = [];
      for (let lists = result.surely; lists !== undefined; lists = lists.next)
        surely.push(...lists.used);
      return endedOnly
        ? surely
        : [...surely, ...open.flatMap((each) => inner.usedIn(each.state, before))];
    },
  };
  return fold as UseFold<unknown>;
}

/** Whether an event that ends a stretch also begins one: its bounds are the same pattern. */
function beginsWhatItEnds({ from, until }: HeldDuring): boolean {
  if (from === undefined || until === undefined || isMark(from) || isMark(until)) return false;
  return samePattern(from, until);
}
