import { type HeldClaim, innerOf, partsOf } from '../claim/kinds.ts';
import type { Evidence } from '../claim/parts.ts';
import { addUsed, addUsedIn } from '../judge/accounting.ts';
import type { Judged } from '../judge/follower.ts';
import type { HeldEvent } from '../pattern/event.ts';
import { eventFit } from '../pattern/fit.ts';
import { makePatternIndex, patternsOf } from '../pattern/pattern-index.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Target } from '../record/target.ts';
import {
  type Change,
  changedEvents,
  forEachEvent,
  type RecordedEvent,
  recordedEvents,
} from './change.ts';
import { type RecordInHand, Track } from './track.ts';

/** A place in a record at which something may be put in. */
export interface Opening {
  /** The entries on either side of it. */
  readonly after: HeldEntry | undefined;
  readonly before: HeldEntry | undefined;
  /** The ticks behind which it may be put in: right behind the one, and right before the other. */
  readonly ticks: readonly number[];
}

/** Whether an event is the beginning of a call in which nothing else happened. */
function isAtOnce({ entry, end }: RecordedEvent): boolean {
  return !end && entry.ended === entry.began + 1;
}

/** Finds the claims that may hear an entry, and those on the whole record. */
function finderOf(
  followed: readonly HeldClaim[],
  all: readonly HeldClaim[],
): (entry: HeldEntry) => readonly HeldClaim[] {
  const hearings = followed.map((claim) => ({ claim, hearing: partsOf(claim).hears(claim) }));
  const patterns = hearings.flatMap(({ claim, hearing }) =>
    hearing.events.flatMap((event) => (event === undefined ? [] : [{ claim, event }])),
  );
  const index = makePatternIndex(patterns.map(({ event }) => event));
  const wide = hearings.filter(({ hearing }) => hearing.beginnings !== undefined);
  const parted = new Set(followed);
  const always = all.filter((claim) => !parted.has(claim));
  return (entry) => {
    const watching = wide.filter(({ hearing }) => hearing.beginnings?.(entry.target) === true);
    return [
      ...new Set([
        ...patternsOf(index, entry).flatMap((number) => patterns[number]?.claim ?? []),
        ...watching.map(({ claim }) => claim),
        ...always,
      ]),
    ];
  };
}

/** Up to this many claims receive every event: finding those that hear it would cost more. */
const fewTracks = 4;

/** All claims of a check on one record, ready to be judged on changes of it. */
export class Tracks {
  readonly claims: readonly HeldClaim[];
  /** The record that they are judged on. */
  readonly record: RecordInHand;
  private readonly tracks: ReadonlyMap<HeldClaim, Track>;
  private readonly uses: readonly HeldEvent[];
  private readonly hasStretches: boolean;
  private accountedFor: ReadonlySet<number> | undefined;
  /** Which claims may hear an entry, as far as a glance tells. */
  private readonly hearers = new Map<HeldEntry, readonly HeldClaim[]>();
  private readonly find: (entry: HeldEntry) => readonly HeldClaim[];

  constructor(claims: readonly HeldClaim[], evidence: Evidence) {
    this.claims = claims;
    let events: readonly RecordedEvent[] | undefined;
    this.record = {
      evidence,
      taken: 0,
      events() {
        events ??= recordedEvents(evidence.journal);
        return events;
      },
    };
    const followed = claims.filter((claim) => claim.ofWhole !== true);
    this.find = finderOf(followed, claims);
    const tracks = new Map(followed.map((claim) => [claim, new Track(claim, this.record)]));
    this.tracks = tracks;
    const all = [...tracks.values()];
    forEachEvent(evidence.journal, (entry, end, tick) => {
      if (all.length <= fewTracks) for (const track of all) track.hear(entry, end, tick);
      else for (const claim of this.hearersOf(entry)) tracks.get(claim)?.hear(entry, end, tick);
    });
    this.uses = claims.flatMap((claim) => partsOf(claim).uses(claim));
    this.hasStretches = claims.some((claim) => innerOf(claim) !== undefined);
  }

  /** How a claim is judged after a change. */
  judgedAfter(claim: HeldClaim, change: Change): Judged {
    const track = this.tracks.get(claim);
    if (track !== undefined) return track.judgedAfter(change);
    const isAsked = partsOf(claim).asksCover?.(claim);
    // Whether a double has drifted does not depend on the calls.
    return isAsked === undefined ? 'holds' : this.covered(isAsked, change);
  }

  /** The claims that may be judged otherwise after a change; all others are judged as before. */
  concernedBy({ without, added }: Change): ReadonlySet<HeldClaim> {
    const concerned = new Set<HeldClaim>();
    for (const entry of [...without, ...added])
      for (const claim of this.hearersOf(entry)) concerned.add(claim);
    return concerned;
  }

  private hearersOf(entry: HeldEntry): readonly HeldClaim[] {
    const known = this.hearers.get(entry) ?? this.find(entry);
    this.hearers.set(entry, known);
    return known;
  }

  /** The gaps between the events that some claims hear, in order. */
  gapsFor(claims: readonly HeldClaim[]): readonly Opening[] {
    const heard = new Map<number, RecordedEvent>();
    for (const claim of claims)
      for (const event of this.heardBy(claim)) heard.set(event.tick, event);
    const events = [...heard.values()].sort((one, other) => one.tick - other.tick);
    return [undefined, ...events].flatMap((after, at): Opening[] => {
      const before = events[at];
      // Nothing happens within a call that ended at once.
      if (after !== undefined && after.entry === before?.entry && isAtOnce(after)) return [];
      const behind = after === undefined ? 0 : isAtOnce(after) ? after.tick + 1 : after.tick;
      const ahead = before === undefined ? this.record.evidence.journal.tick : before.tick - 1;
      const ticks = ahead > behind ? [behind, ahead] : [behind];
      return [{ after: after?.entry, before: before?.entry, ticks }];
    });
  }

  private heardBy(claim: HeldClaim): readonly RecordedEvent[] {
    const track = this.tracks.get(claim);
    if (track !== undefined) return track.heard;
    const isAsked = partsOf(claim).asksCover?.(claim);
    if (isAsked === undefined) return [];
    return this.record.events().filter(({ entry, end }) => !end && isAsked(entry.target));
  }

  /** Whether every entry of some targets is covered by a claim. */
  private covered(isAsked: (target: Target) => boolean, change: Change): Judged {
    const isAccounted = this.hasStretches ? this.anew(change) : this.fromPatterns(change);
    const gone = new Set(change.without);
    const { entries } = this.record.evidence.journal;
    const isLeft = (entry: HeldEntry) =>
      isAsked(entry.target) && !gone.has(entry) && !isAccounted(entry);
    return entries.some(isLeft) || change.added.some(isLeft) ? 'fails' : 'holds';
  }

  private fromPatterns({ added }: Change): (entry: HeldEntry) => boolean {
    const before = this.accounted();
    const others = this.record.evidence.accounted();
    const fresh = new Set(added);
    return (entry) =>
      fresh.has(entry)
        ? others.has(entry.id) || this.uses.some((event) => eventFit(event, entry) === 'fits')
        : before.has(entry.id);
  }

  /** An entry used in a stretch may no longer be used if another event ends the stretch. */
  private anew(change: Change): (entry: HeldEntry) => boolean {
    const used = new Set(this.record.evidence.accounted());
    const events = changedEvents(this.record.events(), change);
    for (const claim of this.claims) addUsedIn(claim, events, (id) => used.add(id));
    return ({ id }) => used.has(id);
  }

  private accounted(): ReadonlySet<number> {
    if (this.accountedFor !== undefined) return this.accountedFor;
    const { journal } = this.record.evidence;
    const used = new Set(this.record.evidence.accounted());
    for (const claim of this.claims) addUsed(claim, journal, journal.tick, (id) => used.add(id));
    this.accountedFor = used;
    return used;
  }
}
