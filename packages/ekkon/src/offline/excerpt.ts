import type { RecordedEvent } from '../alter/change.ts';
import { elsewhereIn, sameArguments } from '../claim/explain-count.ts';
import { countedBy, type HeldClaim, innermost, innerOf, partsOf } from '../claim/kinds.ts';
import { reach } from '../claim/order/explain-order.ts';
import type { Counted, Evidence, Hearing, Totals, Wanting } from '../claim/parts.ts';
import { everything, type Window } from '../explain/window.ts';
import type { Blame } from '../judge/blame.ts';
import { makeEvidence } from '../judge/evidence.ts';
import { Follower, type Judged } from '../judge/follower.ts';
import { foldRecord, type Judgement, judgementOn } from '../judge/judge.ts';
import { callsOf, type HeldEvent, isAtEnd } from '../pattern/event.ts';
import { eventDifferences, eventFit, speaksOf } from '../pattern/fit.ts';
import { unbounded } from '../pattern/multiplicity.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import { distanceOf } from '../value/difference.ts';
import { inOrder } from './in-order.ts';
import type { Recent } from './recent.ts';

/** How much an excerpt keeps. */
export interface ExcerptSize {
  /** Entries that come nearest to a claim without fitting. */
  readonly nearest: number;
  /** Events that the claim hears before and after it is lost, or before the end; half as many other entries. */
  readonly around: number;
  /** Entries that the claim hears, at most: with more there is no excerpt. */
  readonly most: number;
}

export const usualSize: ExcerptSize = { nearest: 10, around: reach, most: 20_000 };

/** The claims of the check, and which of them may name which entry as its culprit. */
export interface Others {
  readonly wanted: readonly Wanting[];
  readonly blame: Blame;
}

/** An event that the claim heard, and the state that it led to. */
interface Passed {
  readonly entry: HeldEntry;
  readonly tick: number;
  readonly state: unknown;
  /** Whether no call that was heard was under way then, and nothing was undecided. */
  readonly isQuiet: boolean;
}

/** A state, and how many steps were kept when it was reached. */
interface Noted {
  readonly state: unknown;
  readonly length: number;
}

interface Near {
  readonly entry: HeldEntry;
  readonly distance: number;
}

/**
 * Follows one claim while a long record is read, and keeps the entries that explain why it does not hold, if it does
 * not. Of the events that the claim hears, the part between two equal states is dropped: without it the fold ends as it
 * did. The excerpt also has the nearest entries, and those around the place at which the claim is lost.
 */
export class Excerpt {
  readonly claim: HeldClaim;
  readonly follower: Follower;
  /** Whether it hears ends. */
  readonly hearsEnds: boolean;
  private readonly owners: Blame;
  private readonly recent: Recent;
  private readonly size: ExcerptSize;
  private steps: Passed[] = [];
  /** Whether there were more steps than may be kept. */
  private isTooLong = false;
  private compactAt: number;
  /** Calls under way of which the claim heard the beginning, and may hear the end. */
  private readonly underWay = new Set<HeldEntry>();
  private readonly nearest: Near[] = [];
  /** The entries around the place at which the claim was lost. */
  private around: readonly HeldEntry[] | undefined;
  /** How many events are still wanted after the claim was lost; `undefined` while it is not. */
  private wantedAfter: number | undefined;
  /** The tick after which only few events are kept. */
  private until: number | undefined;
  /** The ticks of the last event that was dropped before the claim was lost, and of the first one after. */
  private readonly gone = { before: Number.NEGATIVE_INFINITY, after: Number.POSITIVE_INFINITY };
  private readonly start: unknown;
  private isHolding: boolean;
  /** The tick of the last event that it heard. */
  private heardAt = 0;
  /** For a count: its pattern, how many entries certainly fit, and the calls of other members with the same arguments. */
  private readonly counted: Counted | undefined;
  private fitting = 0;
  private readonly hasItsArguments: ((entry: HeldEntry) => boolean) | undefined;
  private elsewhere: readonly HeldEntry[] = [];

  /** @param owners knows which entries other claims of the check expect */
  constructor(claim: HeldClaim, owners: Blame, recent: Recent, size: ExcerptSize) {
    this.claim = claim;
    this.owners = owners;
    this.recent = recent;
    this.size = size;
    this.follower = new Follower(claim);
    this.start = this.follower.state;
    this.isHolding = this.follower.standing(noEvidence) === 'holds';
    this.counted = countedBy(claim);
    this.hasItsArguments = this.counted && elsewhereIn(callsOf(this.counted.held));
    this.hearsEnds = this.follower.hearing.events.some(
      (event) => event !== undefined && isAtEnd(event),
    );
    this.compactAt = 2 * size.around;
  }

  get hearing(): Hearing {
    return this.follower.hearing;
  }

  /** The patterns to which entries may come near. Those that an order lacks are found around its failure. */
  get sought(): readonly HeldEvent[] {
    const inner = innermost(this.claim);
    if (partsOf(inner).patternAt !== undefined) return [];
    return this.follower.hearing.events.filter((event) => event !== undefined);
  }

  /** Whether calls of other members with the arguments that it misses are of interest. */
  get seeksElsewhere(): boolean {
    return this.hasItsArguments !== undefined;
  }

  /** Takes the next event that the claim may hear. */
  take(entry: HeldEntry, end: boolean, tick: number): void {
    const { follower } = this;
    const before = follower.state;
    if (!follower.take(entry, end, tick)) return;
    const { state, isCertain } = follower;
    this.heardAt = tick;
    if (this.counted !== undefined) this.countFitting(entry, end, before !== state);
    if (this.until !== undefined) {
      this.keepIfEnding({ entry, end, tick }, before);
      return;
    }
    if (!end && this.hearsEnds) this.underWay.add(entry);
    if (this.isHolding && isCertain && this.isAsBefore(before, state)) {
      this.gone.before = tick;
      return;
    }
    this.keep({ entry, tick, state, isQuiet: this.underWay.size === 0 && isCertain });
    if (this.wantedAfter !== undefined) this.wantedAfter--;
    else if (before !== state) this.noteStanding();
    if (this.wantedAfter === 0) this.until = tick;
  }

  private isAsBefore(before: unknown, state: unknown): boolean {
    return before === state || partsOf(this.claim).same(this.claim, before, state);
  }

  /** Keeps an entry that the claim did not hear at a tick if it is among the nearest; whether it was compared. */
  seek(entry: HeldEntry, end: boolean, tick: number): boolean {
    if (this.heardAt === tick || this.isHolding || this.wantedAfter !== undefined) return false;
    for (const event of this.follower.hearing.events) {
      if (event === undefined || isAtEnd(event) !== end) continue;
      if (!speaksOf(callsOf(event), entry)) continue;
      this.rank(entry, distanceOf(eventDifferences(event, entry, 'once')));
    }
    return true;
  }

  /** Keeps an entry of another member if it has the arguments of a call that is missing; whether it was compared. */
  seekElsewhere(entry: HeldEntry): boolean {
    if (this.isHolding || this.counted === undefined) return false;
    if (this.hasItsArguments?.(entry) === true)
      this.elsewhere = sameArguments(callsOf(this.counted.held), [...this.elsewhere, entry]);
    return true;
  }

  /** Notes that an entry ends: call it before the end is taken. */
  ended(entry: HeldEntry): void {
    this.underWay.delete(entry);
  }

  /** The entries, in order; `undefined` if they are too many to keep. */
  entries(): HeldEntry[] | undefined {
    if (this.isTooLong) return undefined;
    const heard = this.steps.map(({ entry }) => entry);
    const near = this.nearest.map(({ entry }) => entry);
    const others = [...near, ...this.elsewhere, ...(this.around ?? this.recent.entries)];
    return inOrder([...heard, ...others.filter((entry) => !this.mayHear(entry))]);
  }

  /**
   * The claim judged on the excerpt; `undefined` if that is not as it was judged on the whole.
   *
   * @param journal that of the record, with the entries of the excerpt alone
   */
  judgement(
    journal: Journal,
    judged: Judged,
    counts: Totals['entries'],
    { wanted, blame }: Others,
  ): Judgement | undefined {
    const evidence: Evidence = {
      ...makeEvidence(journal, nothingAccounted, nothingPlanned),
      totals: { entries: counts, fitting: this.fitting },
      until: () => this.until,
    };
    const follower = new Follower(this.claim);
    foldRecord([follower], evidence);
    if (follower.judged(evidence) !== judged) return undefined;
    const judgement = judgementOn(follower, evidence, wanted, () => blame);
    const { diagnosis } = judgement;
    if (diagnosis === undefined || !this.isPartly(diagnosis.stretch)) return judgement;
    return { ...judgement, diagnosis: { ...diagnosis, isPart: true } };
  }

  /** Whether events that the claim heard in a stretch were dropped. */
  private isPartly({ after, before }: Window = everything): boolean {
    return this.gone.before > after || this.gone.after < before;
  }

  /** The tick after which events that the claim hears are left out, if it was lost long before the end. */
  get endsAt(): number | undefined {
    return this.until;
  }

  private countFitting(entry: HeldEntry, end: boolean, isOther: boolean): void {
    if (this.counted === undefined) return;
    const { held, range } = this.counted;
    // Where no number is too many, nobody asks how many there are of enough.
    if (isAtEnd(held) !== end || (range.most === unbounded && !isOther)) return;
    if (eventFit(held, entry) === 'fits') this.fitting++;
  }

  private keep(passed: Passed): void {
    if (this.isTooLong) return;
    this.steps.push(passed);
    if (this.steps.length > this.size.most) {
      this.isTooLong = true;
      this.steps = [];
    }
    if (this.steps.length < this.compactAt || this.wantedAfter !== undefined) return;
    this.compact();
    this.compactAt = Math.max(2 * this.size.around, 2 * this.steps.length);
  }

  /** Keeps an event long after the claim was lost if it ends its stretch, or is what should have come before. */
  private keepIfEnding({ entry, end, tick }: RecordedEvent, before: unknown): void {
    const { follower, claim } = this;
    const { state, hearing } = follower;
    const isEnding = () =>
      innerOf(claim) === undefined ||
      [...(hearing.closing ?? [])].some((at) => isOf(hearing.events[at], entry, end));
    if (!this.isAsBefore(before, state) && isEnding())
      this.steps.push({ entry, tick, state, isQuiet: false });
    else this.gone.after = Math.min(this.gone.after, tick);
  }

  /** Drops the events between equal states, except the latest. */
  private compact(): void {
    const from = Math.max(0, this.steps.length - this.size.around);
    const kept: Passed[] = [];
    const known = new Map<unknown, Noted[]>();
    const note = (key: unknown, state: unknown, length: number) => {
      const alike = known.get(key) ?? [];
      while ((alike.at(-1)?.length ?? -1) >= length) alike.pop();
      alike.push({ state, length });
      known.set(key, alike);
    };
    note(this.keyOf(this.start), this.start, 0);
    for (const step of this.steps.slice(0, from)) {
      kept.push(step);
      if (!step.isQuiet) continue;
      const key = this.keyOf(step.state);
      const same = known
        .get(key)
        ?.find(
          ({ state, length }) =>
            length < kept.length && this.isSame(state, step.state, kept, length),
        );
      if (same === undefined) note(key, step.state, kept.length);
      else {
        kept.length = same.length;
        this.gone.before = step.tick;
      }
    }
    this.steps = [...kept, ...this.steps.slice(from)];
  }

  private keyOf(state: unknown): unknown {
    const key = partsOf(this.claim).bucket?.(this.claim, state);
    return key ?? (typeof state === 'object' ? undefined : state);
  }

  /** Whether a state that was noted still lies on the way, and is the same. */
  private isSame(noted: unknown, state: unknown, kept: readonly Passed[], length: number): boolean {
    const isOnTheWay = length === 0 || kept[length - 1]?.state === noted;
    return isOnTheWay && partsOf(this.claim).same(this.claim, noted, state);
  }

  /**
   * Notes whether no later event can mend it, however the undecided ones are decided. What came while it held, or before,
   * is nothing that it lacks.
   */
  private noteStanding(): void {
    const standing = this.follower.standing(noEvidence);
    if (standing === 'lost' && this.follower.isCertain) {
      this.wantedAfter = this.size.around;
      this.around = this.recent.around();
    }
    if ((standing === 'holds') !== this.isHolding) this.nearest.length = 0;
    this.isHolding = standing === 'holds';
  }

  /** Whether the claim may hear an entry: one that it heard and that was dropped must not come back. */
  private mayHear(entry: HeldEntry): boolean {
    const { events, beginnings } = this.follower.hearing;
    if (beginnings?.(entry.target) === true) return true;
    return events.some((event) => event !== undefined && mayFit(event, entry));
  }

  private rank(entry: HeldEntry, distance: number): void {
    const { nearest, size } = this;
    const worst = nearest[size.nearest - 1];
    if (worst !== undefined && distance >= worst.distance) return;
    if (this.owners.isOwned(entry, this.claim)) return;
    const place = nearest.findIndex((each) => each.distance > distance);
    nearest.splice(place === -1 ? nearest.length : place, 0, { entry, distance });
    nearest.length = Math.min(nearest.length, size.nearest);
  }
}

function isOf(event: HeldEvent | undefined, entry: HeldEntry, end: boolean): boolean {
  return event !== undefined && isAtEnd(event) === end && mayFit(event, entry);
}

function mayFit(event: HeldEvent, entry: HeldEntry): boolean {
  return eventFit(event, entry) !== 'differs';
}

/** Claims on the whole record have no excerpt, and no others need evidence. */
const noEvidence = undefined as never;
const nothingAccounted = () => new Set<number>();
const nothingPlanned = () => [];
