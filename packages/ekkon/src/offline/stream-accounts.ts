import { tellUnclaimed } from '../claim/explain-nothing-else.ts';
import { type HeldClaim, innerOf, partsOf } from '../claim/kinds.ts';
import { aboutClaim } from '../explain/diagnosis.ts';
import { UseFollower } from '../judge/accounting.ts';
import { type Judgement, wantingOf } from '../judge/judge.ts';
import { callsOf, type HeldEvent, isAtEnd, targetOf } from '../pattern/event.ts';
import { type EventMatcher, makeEventMatcher } from '../pattern/event-matcher.ts';
import { eventFit } from '../pattern/fit.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Target } from '../record/target.ts';
import { grouped } from '../value/grouped.ts';

/** How many uncovered entries of each kind are remembered. */
const unclaimedKept = 12;

/** Entries that nothing covers: how many, and the first of them. */
interface Unclaimed {
  count: number;
  readonly first: HeldEntry[];
}

/**
 * Which entries claims account for, found as a record is read: a bit for each entry. Only if somebody asks: a claim
 * that there is nothing else, or a rule.
 */
export class StreamAccounts {
  private readonly claims: readonly HeldClaim[];
  private readonly asksAll: boolean;
  /** Whether somebody asks. */
  readonly isAsked: boolean;
  private readonly matches: EventMatcher;
  /** The patterns that say nothing of arguments: they settle most entries. */
  private readonly wide: ReadonlyMap<Target, readonly HeldEvent[]>;
  private readonly stretches: readonly UseFollower[];
  private bits = new Uint8Array(1 << 10);
  /** For those decided after the last event: the target of each entry, by its number. */
  private targetNumbers = new Uint32Array(1 << 10);
  private readonly targets: Target[] = [];
  private count = 0;
  /** The entries among them that are to be told, by id, and by whom. */
  private readonly told = new Map<number, readonly Unclaimed[]>();
  private readonly ofAll: Unclaimed = { count: 0, first: [] };
  private readonly ofClaims: ReadonlyMap<HeldClaim, Unclaimed>;

  constructor(claims: readonly HeldClaim[], asksAll: boolean) {
    const asking = claims.filter((claim) => partsOf(claim).asksCover !== undefined);
    this.claims = claims;
    this.asksAll = asksAll;
    this.isAsked = asksAll || asking.length > 0;
    this.ofClaims = new Map(asking.map((claim) => [claim, { count: 0, first: [] }]));
    const simple = claims.filter((claim) => innerOf(claim) === undefined);
    this.stretches = claims.flatMap((claim) =>
      innerOf(claim) === undefined ? [] : [new UseFollower(claim)],
    );
    const used = simple.flatMap((claim) => partsOf(claim).uses(claim));
    this.matches = makeEventMatcher(used);
    this.wide = grouped(
      used.filter((event) => callsOf(event).claimed === undefined),
      (event) => targetOf(event),
    );
  }

  /**
   * Whether entries cannot be decided while they are read: the entries used in a stretch are known only when it has
   * ended. Then `decideAll` decides them.
   */
  get isDeferred(): boolean {
    return this.isAsked && this.stretches.length > 0;
  }

  /** Whether it can be told without the record: not if it is not known of some event whether it bounds a stretch. */
  get isCertain(): boolean {
    return this.stretches.every(({ isCertain }) => isCertain);
  }

  /** Decides all entries, after the last event: counts those that nothing covers. The first are told if they come again. */
  decideAll(): void {
    for (const follower of this.stretches) follower.addUsed((id) => this.note(id));
    const askedOf = this.targets.map((target) => this.asking(target));
    for (let id = 1; id <= this.count; id++) {
      if (this.has(id)) continue;
      const asking = askedOf[this.targetNumbers[id] ?? 0] ?? [];
      for (const unclaimed of asking) unclaimed.count++;
      const short = asking.filter(({ count }) => count <= unclaimedKept);
      if (short.length > 0) this.told.set(id, short);
    }
  }

  /** Whether entries must come again, because some that nothing covers are to be told. */
  get asksAgain(): boolean {
    return this.told.size > 0;
  }

  /** Receives an entry once more as it begins and as it ends, after all were decided. */
  comesAgain(entry: HeldEntry, end: boolean): void {
    const lists = this.told.get(entry.id);
    if (lists === undefined) return;
    if (end) this.told.delete(entry.id);
    else for (const { first } of lists) first.push(entry);
  }

  tell(entry: HeldEntry, end: boolean, tick: number): void {
    if (!this.isAsked) return;
    if (!end && this.isDeferred) this.noteTarget(entry);
    if (!this.has(entry.id) && this.uses(entry, end)) this.note(entry.id);
    for (const follower of this.stretches) follower.tell(entry, end, tick);
    if (end && !this.isDeferred) this.decide(entry);
  }

  /** Whether an entry is covered. */
  has(id: number): boolean {
    return ((this.bits[id >> 3] ?? 0) & (1 << (id & 7))) !== 0;
  }

  /** Decides an entry of which nothing more comes. */
  decide(entry: HeldEntry): void {
    if (!this.isAsked || this.has(entry.id)) return;
    for (const unclaimed of this.asking(entry.target)) add(unclaimed, entry);
  }

  /** The lists of those who ask about the entries of a target. */
  private asking(target: Target): readonly Unclaimed[] {
    const claims = [...this.ofClaims].filter(
      ([claim]) => partsOf(claim).asksCover?.(claim)(target) === true,
    );
    const lists = claims.map(([, unclaimed]) => unclaimed);
    return this.asksAll ? [this.ofAll, ...lists] : lists;
  }

  private noteTarget({ id, target }: HeldEntry): void {
    if (id >= this.targetNumbers.length) {
      const more = new Uint32Array(2 * id);
      more.set(this.targetNumbers);
      this.targetNumbers = more;
    }
    this.targetNumbers[id] = target.number;
    this.targets[target.number] ??= target;
    this.count = id;
  }

  /** The first entries that nothing covers, if a rule needs them; and how many there are. */
  unclaimed(): readonly HeldEntry[] {
    return this.ofAll.first;
  }

  get unclaimedCount(): number {
    return this.ofAll.count;
  }

  /** How a claim that there is nothing else is judged, with the reason. */
  judgementOn(claim: HeldClaim): Judgement {
    const unclaimed = this.ofClaims.get(claim);
    if (unclaimed === undefined || unclaimed.count === 0)
      return { claim, judged: 'holds', absent: undefined, diagnosis: undefined };
    const told = tellUnclaimed(unclaimed.first, this.claims.map(wantingOf));
    const diagnosis = {
      code: 'unclaimedEntries',
      ...aboutClaim(claim),
      ...told,
      count: unclaimed.count,
    } as const;
    return { claim, judged: 'fails', absent: undefined, diagnosis };
  }

  private uses(entry: HeldEntry, end: boolean): boolean {
    const wide = this.wide.get(entry.target);
    if (wide?.some((event) => isAtEnd(event) === end && eventFit(event, entry) === 'fits'))
      return true;
    return this.matches(entry, end).fits.length > 0;
  }

  private note(id: number): void {
    const place = id >> 3;
    if (place >= this.bits.length) {
      const more = new Uint8Array(2 * (place + 1));
      more.set(this.bits);
      this.bits = more;
    }
    this.bits[place] = (this.bits[place] ?? 0) | (1 << (id & 7));
  }
}

/** Adds an entry; they are decided as they end, and told as they began. */
function add(unclaimed: Unclaimed, entry: HeldEntry): void {
  unclaimed.count++;
  const { first } = unclaimed;
  const last = first[unclaimedKept - 1];
  if (last !== undefined && last.id < entry.id) return;
  const place = first.findIndex(({ id }) => id > entry.id);
  first.splice(place === -1 ? first.length : place, 0, entry);
  first.length = Math.min(first.length, unclaimedKept);
}
