import type { HeldDuring } from '../claim/during.ts';
import { hearingOf } from '../claim/during-parts.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Heard, Hearing, HeldClaimBase } from '../claim/parts.ts';
import {
  type InnerFold,
  noStretches,
  passMarks,
  type Stretches,
  takeEvent,
} from '../claim/stretches.ts';
import { isAtEnd } from '../pattern/event.ts';
import { eventFit } from '../pattern/fit.ts';
import { makePatternIndex } from '../pattern/pattern-index.ts';
import { eventsOf } from '../record/events.ts';
import type { Journal } from '../record/journal.ts';
import { isMark } from '../record/mark.ts';

/** The ids of entries that a claim has used, the latest first. */
type Used = { readonly id: number; readonly next: Used } | undefined;

/** What is folded to know which entries a claim uses. */
interface UseFold<S> {
  readonly hearing: Hearing;
  start(): S;
  take(state: S, event: Heard): S;
  /** Everything used, as the record stands. */
  usedIn(state: S): readonly Used[];
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
  const fold = useFold(claim);
  const { hearing } = fold;
  const candidates = makePatternIndex(hearing.events);
  const events = eventsOf(journal);
  let state = fold.start();
  for (let tick = 1; tick <= to; tick++) {
    const entry = events[tick - 1];
    if (entry === undefined || isMark(entry)) continue;
    const end = entry.began !== tick;
    const near = candidates(entry, end);
    if (near.length === 0) continue;
    const fits = near.filter((at) => {
      const event = hearing.events[at];
      if (event === undefined || isAtEnd(event) !== end) return false;
      const fit = eventFit(event, entry);
      return fit === 'fits' || (fit === 'undecided' && hearing.closing?.has(at) === true);
    });
    if (fits.length > 0) state = fold.take(state, { entry, end, tick, fits, before: false });
  }
  for (const used of fold.usedIn(state))
    for (let left = used; left !== undefined; left = left.next) add(left.id);
}

function useFold(claim: HeldClaimBase): UseFold<unknown> {
  if (claim.kind === 'during') return duringFold(claim as HeldDuring);
  const fold: UseFold<Used> = {
    hearing: { events: partsOf(claim).uses(claim) },
    start: () => undefined,
    take: (next, { entry }) => ({ id: entry.id, next }),
    usedIn: (used) => [used],
  };
  return fold as UseFold<unknown>;
}

function duringFold(claim: HeldDuring): UseFold<unknown> {
  const inner = useFold(claim.inner);
  const stretches: InnerFold<unknown, readonly Used[]> = {
    start: () => inner.start(),
    take: (state, event) => inner.take(state, event),
    same: (one, other) => one === other,
    ended: (found, state) => [...found, ...inner.usedIn(state)],
    mindsBeginnings: false,
    beginnings: undefined,
  };
  const fold: UseFold<Stretches<unknown, readonly Used[]>> = {
    hearing: hearingOf(claim, inner.hearing),
    start: () => noStretches<unknown, readonly Used[]>(claim, stretches, 0, undefined, []),
    take: (state, event) => takeEvent(claim, stretches, state, event),
    usedIn(state) {
      const { open, result } = passMarks(claim, stretches, state, Number.POSITIVE_INFINITY);
      if (claim.endedOnly) return result;
      return [...result, ...open.flatMap((each) => inner.usedIn(each.state))];
    },
  };
  return fold as UseFold<unknown>;
}
