import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Evidence } from '../claim/parts.ts';
import { Follower, type Judged } from '../judge/follower.ts';
import { makeEventMatcher } from '../pattern/event-matcher.ts';
import type { HeldEntry } from '../record/journal.ts';

/** An event of a record, and its place in it. */
export interface PlacedEvent {
  readonly entry: HeldEntry;
  readonly end: boolean;
  readonly tick: number;
}

/** Whether the later of two events of a record may have come before the earlier one. */
export type MayChange = (earlier: PlacedEvent, later: PlacedEvent) => boolean;

/** How a claim stands over all orders, and two events on whose order that depends, if it does. */
export interface LooseJudgement {
  readonly judged: Judged;
  readonly between: readonly [PlacedEvent, PlacedEvent] | undefined;
}

/** Places in the orders, and states at one of them, that are looked at before it is given up. */
const placesAllowed = 4_096;
const statesAllowed = 256;
/** Events of one claim that are put in all orders; of more only that is said. */
const stepsAllowed = 2_000;

interface FittingEvent extends PlacedEvent {
  readonly fits: readonly number[];
}

/**
 * Judges a claim in every order that its events may have come in: a record from several machines is a partial order,
 * and each way of making it a whole one is folded, equal states once. The ways in which events may have come up to
 * some moment are the down-sets of that order, which are few if clocks are close.
 *
 * @param mayChange asked of events that the claim hears, the earlier first
 */
export function judgeLoosely(
  claim: HeldClaim,
  events: readonly PlacedEvent[],
  mayChange: MayChange,
  evidence: Evidence,
): LooseJudgement {
  const steps = stepsOf(claim, events);
  const pair = steps?.flatMap((step, at) => {
    const next = steps[at + 1];
    return next !== undefined && mayChange(step, next) ? [[step, next] as const] : [];
  });
  // A claim that hears undecided events anyway, or none that could change places, stays as it was judged.
  if (steps === undefined || pair === undefined || pair.length === 0)
    return { judged: judgedIn(claim, events, evidence), between: undefined };
  const judged = judgeAll(claim, steps, mayChange, evidence);
  const between =
    judged === 'undecided' ? (pairThatMatters(claim, steps, pair, evidence) ?? pair[0]) : undefined;
  return { judged, between };
}

/** The events that a claim hears; `undefined` if it is unknown which patterns an event matches. */
function stepsOf(
  claim: HeldClaim,
  events: readonly PlacedEvent[],
): readonly FittingEvent[] | undefined {
  const { events: patterns, beginnings } = partsOf(claim).hears(claim);
  const matches = makeEventMatcher(patterns);
  const steps: FittingEvent[] = [];
  for (const event of events) {
    const { entry, end } = event;
    const { fits, undecided } = matches(entry, end);
    if (undecided.length > 0) return undefined;
    if (fits.length > 0 || (!end && beginnings?.(entry.target) === true))
      steps.push({ ...event, fits });
  }
  return steps;
}

/** A place in the orders: all up to `from` were taken, and some behind it. */
interface DownSet {
  readonly from: number;
  readonly taken: readonly number[];
  readonly states: unknown[];
}

function judgeAll(
  claim: HeldClaim,
  steps: readonly FittingEvent[],
  mayChange: MayChange,
  evidence: Evidence,
): Judged {
  if (steps.length > stepsAllowed) return 'undecided';
  const parts = partsOf(claim);
  let places: ReadonlyMap<string, DownSet> = new Map([
    ['', { from: 0, taken: [], states: [parts.start(claim, 0, undefined)] }],
  ]);
  let looked = 0;
  for (let count = 0; count < steps.length; count++) {
    const next = new Map<string, DownSet>();
    for (const place of places.values()) {
      for (const at of comingNext(place, steps, mayChange)) {
        if (++looked > placesAllowed) return 'undecided';
        const reached = placeAfter(place, at);
        const key = `${reached.from} ${reached.taken.join(' ')}`;
        const known = next.get(key) ?? reached;
        next.set(key, known);
        for (const state of place.states) {
          const step = steps[at] as FittingEvent;
          // Ticks say where a mark stands: an event keeps its own, whichever place it takes.
          const moved = parts.take(claim, state, { ...step, before: false });
          if (known.states.some((other) => parts.same(claim, other, moved))) continue;
          known.states.push(moved);
          if (known.states.length > statesAllowed) return 'undecided';
        }
      }
    }
    places = next;
  }
  const held = [...places.values()].flatMap(({ states }) =>
    states.map((state) => parts.stands(claim, state, evidence) === 'holds'),
  );
  return held.every(Boolean) ? 'holds' : held.some(Boolean) ? 'undecided' : 'fails';
}

/** The events that may come next: those before which none has to come that has not come yet. */
function comingNext(
  { from, taken }: DownSet,
  steps: readonly FittingEvent[],
  mayChange: MayChange,
): readonly number[] {
  const found: number[] = [];
  const waiting: FittingEvent[] = [];
  for (let at = from; at < steps.length; at++) {
    if (taken.includes(at)) continue;
    const step = steps[at] as FittingEvent;
    if (waiting.every((other) => mayChange(other, step))) found.push(at);
    waiting.push(step);
  }
  return found;
}

function placeAfter({ from, taken }: DownSet, at: number): DownSet {
  const all = new Set([...taken, at]);
  let first = from;
  while (all.delete(first)) first++;
  return { from: first, taken: [...all].sort((one, other) => one - other), states: [] };
}

/** The first two neighbours that make a difference if they change places. */
function pairThatMatters(
  claim: HeldClaim,
  steps: readonly FittingEvent[],
  pairs: readonly (readonly [PlacedEvent, PlacedEvent])[],
  evidence: Evidence,
): readonly [PlacedEvent, PlacedEvent] | undefined {
  const before = judgedIn(claim, steps, evidence);
  return pairs.find(([one, other]) => {
    const swapped = steps.map((step) => (step === one ? other : step === other ? one : step));
    return judgedIn(claim, swapped, evidence) !== before;
  });
}

function judgedIn(claim: HeldClaim, events: readonly PlacedEvent[], evidence: Evidence): Judged {
  const follower = new Follower(claim);
  for (const { entry, end, tick } of events) follower.take(entry, end, tick);
  return follower.judged(evidence);
}
