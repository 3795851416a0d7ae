import type { AnyParts } from '../claim/during-parts.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Evidence, Hearing, Rest, Standing } from '../claim/parts.ts';
import { Follower, type Judged } from '../judge/follower.ts';
import { type EventMatcher, makeEventMatcher } from '../pattern/event-matcher.ts';
import { makePatternIndex, type PatternIndex, patternsOf } from '../pattern/pattern-index.ts';
import type { HeldEntry } from '../record/journal.ts';
import { firstPlace } from '../value/first-place.ts';
import { type Change, changedEvents, eventsIn, type RecordedEvent } from './change.ts';

/** The record that claims are judged on, and how much of it was folded for changes. */
export interface RecordInHand {
  readonly evidence: Evidence;
  /** All events, in order: only few claims need them. */
  events(): readonly RecordedEvent[];
  /** How many steps were taken, over all changes. */
  taken: number;
}

/** An event that a claim hears, with the numbers of the patterns that it fits. */
interface HeardEvent extends RecordedEvent {
  readonly fits: readonly number[];
  /** A step of a record is not a call that ran before it. */
  readonly before: false;
}

/**
 * One claim's fold over a record, kept step by step, so a changed record is judged from the change on. Judging ends
 * as soon as the state equals the unchanged one, or can no longer hold.
 */
export class Track {
  readonly claim: HeldClaim;
  private readonly parts: AnyParts;
  private readonly hearing: Hearing;
  private readonly matches: EventMatcher;
  private index: PatternIndex | undefined;
  private readonly record: RecordInHand;
  private readonly steps: HeardEvent[] = [];
  /** The state before each step, and after the last one. */
  private readonly states: unknown[];
  /** Whether it is known of every event which patterns it fits. */
  private isCertain = true;
  private rests: readonly Rest[] | undefined;
  private judgedBefore: Judged | undefined;
  /** The tick after which its events are not at hand, if there is one: anything may come then. */
  private readonly until: number | undefined;

  constructor(claim: HeldClaim, record: RecordInHand) {
    this.claim = claim;
    this.record = record;
    this.parts = partsOf(claim);
    this.hearing = this.parts.hears(claim);
    this.matches = makeEventMatcher(this.hearing.events);
    this.states = [this.parts.start(claim, 0, undefined)];
    this.until = record.evidence.until?.(claim);
  }

  /** Takes the next event of the record. */
  hear(entry: HeldEntry, end: boolean, tick: number): void {
    const step = this.stepFor(entry, end, tick);
    if (step === 'undecided') this.isCertain = false;
    else if (step !== undefined) {
      this.states.push(this.parts.take(this.claim, this.states[this.steps.length], step));
      this.steps.push(step);
    }
  }

  /** How the claim is judged on the record as it is. */
  get judged(): Judged {
    this.judgedBefore ??= this.isCertain
      ? this.judgedIn(this.states.at(-1))
      : this.judgedAnew(this.record.events());
    return this.judgedBefore;
  }

  /** The events that the claim hears. */
  get heard(): readonly RecordedEvent[] {
    return this.steps;
  }

  /** How the claim is judged on the record after a change. */
  judgedAfter(change: Change): Judged {
    if (!this.isCertain) {
      return this.hears(change)
        ? this.judgedAnew(changedEvents(this.record.events(), change))
        : this.judged;
    }
    const added: HeardEvent[] = [];
    for (const { entry, end, tick } of change.added.flatMap(eventsIn)) {
      const step = this.stepFor(entry, end, tick);
      if (step === 'undecided') return this.judgedAnew(changedEvents(this.record.events(), change));
      if (step !== undefined) added.push(step);
    }
    const gone = this.placesOf(change.without);
    if (added.length === 0 && gone.size === 0) return this.judged;
    added.sort((one, other) => one.tick - other.tick);
    return this.walk(added, gone);
  }

  private walk(added: readonly HeardEvent[], gone: ReadonlySet<number>): Judged {
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
      this.record.taken++;
      if (addition !== undefined && (step === undefined || addition.tick < step.tick)) {
        state = parts.take(claim, state, addition);
        next++;
      } else {
        if (step !== undefined && !gone.has(at)) state = parts.take(claim, state, step);
        at++;
      }
      if (parts.stands(claim, state, this.record.evidence) === 'lost') return 'fails';
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
    return this.judgedAs(this.parts.stands(this.claim, state, this.record.evidence));
  }

  private judgedAs(standing: Standing): Judged {
    const isFine = standing === 'holds' || (standing === 'open' && this.until !== undefined);
    return isFine ? 'holds' : 'fails';
  }

  private judgedAnew(events: readonly RecordedEvent[]): Judged {
    const follower = new Follower(this.claim);
    this.record.taken += events.length;
    const { evidence } = this.record;
    for (const { entry, end, tick } of events)
      if (this.knows(tick)) follower.take(entry, end, tick);
    return this.until === undefined
      ? follower.judged(evidence)
      : this.judgedAs(follower.standing(evidence));
  }

  private knows(tick: number): boolean {
    return this.until === undefined || tick <= this.until;
  }

  /** Whether the claim may hear an entry of a change, as far as a glance tells. */
  private hears({ without, added }: Change): boolean {
    const { beginnings, events } = this.hearing;
    this.index ??= makePatternIndex(events);
    const { index } = this;
    return [...without, ...added].some(
      (entry) => patternsOf(index, entry).length > 0 || beginnings?.(entry.target) === true,
    );
  }

  /** The events of an entry that a claim hears; `undefined` if none, `'undecided'` if that is unknown. */
  private stepFor(
    entry: HeldEntry,
    end: boolean,
    tick: number,
  ): HeardEvent | 'undecided' | undefined {
    if (!this.knows(tick)) return undefined;
    const { fits, undecided } = this.matches(entry, end);
    if (undecided.length > 0) return 'undecided';
    const isBeginning = !end && this.hearing.beginnings?.(entry.target) === true;
    return fits.length > 0 || isBeginning ? { entry, end, tick, fits, before: false } : undefined;
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
    return firstPlace(this.steps, (step) => step.tick >= tick);
  }
}

/** The contribution of the steps from each place on. */
function restsOf(steps: readonly HeardEvent[]): readonly Rest[] {
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
