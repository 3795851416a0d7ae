import type { AnyParts } from '../claim/during-parts.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Evidence, Hearing, Rest } from '../claim/parts.ts';
import { Follower, type Judged } from '../judge/follower.ts';
import { isAtEnd } from '../pattern/event.ts';
import { eventFit } from '../pattern/fit.ts';
import { makePatternIndex, type PatternIndex, patternsOf } from '../pattern/pattern-index.ts';
import type { HeldEntry } from '../record/journal.ts';
import { type Change, changedEvents, eventsIn, type RecordedEvent } from './change.ts';

/** An event that a claim hears, with the numbers of the patterns that it fits. */
interface Step extends RecordedEvent {
  readonly fits: readonly number[];
}

/**
 * One claim's fold over a record, kept step by step, so that a changed record is judged from where the change is: it
 * is over as soon as the state equals the unaltered one, or can no longer hold.
 */
export class Track {
  readonly claim: HeldClaim;
  /** How the claim is judged on the record as it is. */
  readonly judged: Judged;
  private readonly parts: AnyParts;
  private readonly hearing: Hearing;
  private readonly index: PatternIndex;
  private readonly events: readonly RecordedEvent[];
  private readonly evidence: Evidence;
  private readonly steps: readonly Step[];
  /** The state before each step, and after the last one. */
  private readonly states: readonly unknown[];
  /** Whether it is known of every event which patterns it fits. */
  private readonly isCertain: boolean;
  private rests: readonly Rest[] | undefined;
  private readonly work: { taken: number };

  /**
   * @param work how many steps are taken, over all changes
   * @param near those of the events that it may hear, in their order
   */
  constructor(
    claim: HeldClaim,
    events: readonly RecordedEvent[],
    evidence: Evidence,
    work: { taken: number },
    near: readonly RecordedEvent[] = events,
  ) {
    this.claim = claim;
    this.work = work;
    this.parts = partsOf(claim);
    this.hearing = this.parts.hears(claim);
    this.index = makePatternIndex(this.hearing.events);
    this.events = events;
    this.evidence = evidence;
    const steps: Step[] = [];
    let isCertain = true;
    for (const event of near) {
      const step = this.stepFor(event);
      if (step === 'undecided') isCertain = false;
      else if (step !== undefined) steps.push(step);
    }
    this.steps = steps;
    this.isCertain = isCertain;
    let state = this.parts.start(claim, 0, undefined);
    const states = [state];
    for (const step of steps) {
      state = this.parts.take(claim, state, { ...step, before: false });
      states.push(state);
    }
    this.states = states;
    this.judged = isCertain ? this.judgedIn(state) : this.judgedAnew(events);
  }

  /** The events that the claim hears. */
  get heard(): readonly RecordedEvent[] {
    return this.steps;
  }

  /** How the claim is judged on the record after a change. */
  judgedAfter(change: Change): Judged {
    if (!this.isCertain) {
      return this.hears(change) ? this.judgedAnew(changedEvents(this.events, change)) : this.judged;
    }
    const added: Step[] = [];
    for (const event of change.added.flatMap(eventsIn)) {
      const step = this.stepFor(event);
      if (step === 'undecided') return this.judgedAnew(changedEvents(this.events, change));
      if (step !== undefined) added.push(step);
    }
    const gone = this.placesOf(change.without);
    if (added.length === 0 && gone.size === 0) return this.judged;
    added.sort((one, other) => one.tick - other.tick);
    return this.walk(added, gone);
  }

  private walk(added: readonly Step[], gone: ReadonlySet<number>): Judged {
    const { claim, parts, steps, states } = this;
    let lastGone = -1;
    let at = added[0] === undefined ? steps.length : this.placeAt(added[0].tick);
    for (const place of gone) {
      at = Math.min(at, place);
      lastGone = Math.max(lastGone, place);
    }
    let state = states[at];
    let next = 0;
    for (;;) {
      const addition = added[next];
      const step = steps[at];
      if (addition === undefined && at > lastGone) {
        const rested = this.rested(state, at);
        if (rested !== undefined) return rested;
        if (state === states[at] || parts.same(claim, state, states[at])) return this.judged;
      }
      if (addition === undefined && step === undefined) return this.judgedIn(state);
      this.work.taken++;
      if (addition !== undefined && (step === undefined || addition.tick < step.tick)) {
        state = parts.take(claim, state, { ...addition, before: false });
        next++;
      } else {
        if (step !== undefined && !gone.has(at))
          state = parts.take(claim, state, { ...step, before: false });
        at++;
      }
      if (parts.stands(claim, state, this.evidence) === 'lost') return 'fails';
    }
  }

  /** How it is judged if all that is left is as it was, for kinds to which that only adds. */
  private rested(state: unknown, at: number): Judged | undefined {
    if (this.parts.rest === undefined) return undefined;
    this.rests ??= restsOf(this.steps);
    const rest = this.rests[at];
    return rest === undefined ? undefined : this.judgedIn(this.parts.rest(this.claim, state, rest));
  }

  private judgedIn(state: unknown): Judged {
    return this.parts.stands(this.claim, state, this.evidence) === 'holds' ? 'holds' : 'fails';
  }

  private judgedAnew(events: readonly RecordedEvent[]): Judged {
    const follower = new Follower(this.claim);
    this.work.taken += events.length;
    for (const { entry, end, tick } of events) follower.take(entry, end, tick);
    return follower.judged(this.evidence);
  }

  /** Whether a change is of an entry of which the claim hears, as far as a glance tells. */
  private hears({ without, added }: Change): boolean {
    const { beginnings } = this.hearing;
    return [...without, ...added].some(
      (entry) => patternsOf(this.index, entry).length > 0 || beginnings?.(entry.target) === true,
    );
  }

  /** What a claim hears in an event; `undefined` if nothing, `'undecided'` if that is not known. */
  private stepFor(event: RecordedEvent): Step | 'undecided' | undefined {
    const { entry, end } = event;
    const { events, beginnings } = this.hearing;
    const isBeginning = !end && beginnings?.(entry.target) === true;
    const fits: number[] = [];
    for (const at of this.index(entry, end)) {
      const pattern = events[at];
      if (pattern === undefined || isAtEnd(pattern) !== end) continue;
      const fit = eventFit(pattern, entry);
      if (fit === 'undecided') return 'undecided';
      if (fit === 'fits') fits.push(at);
    }
    return fits.length > 0 || isBeginning ? { ...event, fits } : undefined;
  }

  /** The places of the steps of some entries. */
  private placesOf(entries: readonly HeldEntry[]): ReadonlySet<number> {
    const places = new Set<number>();
    for (const { began, ended } of entries) {
      for (const tick of ended === undefined ? [began] : [began, ended]) {
        const place = this.placeAt(tick);
        if (this.steps[place]?.tick === tick) places.add(place);
      }
    }
    return places;
  }

  /** The place of the first step at a tick or later. */
  private placeAt(tick: number): number {
    const { steps } = this;
    let [low, high] = [0, steps.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((steps[middle]?.tick ?? 0) < tick) low = middle + 1;
      else high = middle;
    }
    return low;
  }
}

/** What the steps from each place on add. */
function restsOf(steps: readonly Step[]): readonly Rest[] {
  const rests: Rest[] = [];
  let rest: Rest = { begins: 0, ends: 0, peak: 0 };
  rests[steps.length] = rest;
  for (let at = steps.length - 1; at >= 0; at--) {
    const by = steps[at]?.end === true ? -1 : 1;
    rest = {
      begins: rest.begins + (by > 0 ? 1 : 0),
      ends: rest.ends + (by < 0 ? 1 : 0),
      peak: Math.max(0, by + rest.peak),
    };
    rests[at] = rest;
  }
  return rests;
}
