import type { Diagnosis } from '../explain/finding.ts';
import type { Window } from '../explain/window.ts';
import type { HeldEvent } from '../pattern/event.ts';
import type { Range } from '../pattern/multiplicity.ts';
import type { Claim } from '../record/claim-type.ts';
import type { EntryKind } from '../record/entry.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import type { HeldMark } from '../record/mark.ts';
import type { Target } from '../record/target.ts';
import { isOwn, type printsAs } from '../value/prints-as.ts';

/** A claim behind its public type, as far as all kinds have it in common. */
export interface HeldClaimBase<K extends string = string> extends Claim {
  readonly kind: K;
  readonly journal: Journal;
  /** Whether it is about the whole record, and so cannot stand in a stretch or be waited for. */
  readonly ofWhole?: true;
  readonly [printsAs]: string;
}

/** The parts of a claim before it has a notation, which is printed from them when it is asked for. */
export type PartsOf<C extends HeldClaimBase> = Omit<C, keyof Claim | typeof printsAs>;

/** The claim behind its public type; `undefined` if the value is none. */
export function heldClaimOf(value: unknown): HeldClaimBase | undefined {
  return isOwn(value) && 'kind' in value && 'journal' in value
    ? (value as unknown as HeldClaimBase)
    : undefined;
}

/**
 * The state of a claim at one moment: it holds; it is open, because later events may make it hold; or it is lost for
 * good.
 */
export type Standing = 'holds' | 'open' | 'lost';

/** The events that a claim listens to. */
export interface Hearing {
  /** The patterns whose events it hears, by number; a number may be left out. */
  readonly events: readonly (HeldEvent | undefined)[];
  /** Those among them that end a stretch. */
  readonly closing?: ReadonlySet<number>;
  /** The targets of which it hears every beginning, though it may fit no pattern. */
  readonly beginnings?: (target: Target) => boolean;
}

/** An event of the record as a claim hears it: it is known which patterns it fits. Valid for one `take` only. */
export interface Heard {
  readonly entry: HeldEntry;
  readonly end: boolean;
  readonly tick: number;
  /** The numbers of the patterns that it fits. */
  readonly fits: readonly number[];
  /** Whether the entry began before the stretch in which the claim is judged. */
  readonly before: boolean;
}

/** The evidence for judging claims, besides the events. */
export interface Evidence {
  readonly journal: Journal;
  /** Ids of the entries that are covered. */
  accounted(): ReadonlySet<number>;
  /** The members of a double that were planned. */
  planned(double: string): readonly PlannedMember[];
  /** The totals of the whole record, if the journal has only the part that matters to a claim. */
  readonly totals?: Totals;
  /** The tick after which events that a claim hears are left out, if the record goes on there. */
  until?(claim: HeldClaimBase): number | undefined;
}

/** How often things came in a record of which only a part is at hand. */
export interface Totals {
  /** How many entries each target has, by their kind. */
  readonly entries: ReadonlyMap<Target, ReadonlyMap<EntryKind, number>>;
  /** How many entries certainly fit the pattern of the count claim that is asked about. */
  readonly fitting: number;
}

/** The effect of the events from some place on, for a kind that only counts. */
export interface Rest {
  readonly begins: number;
  readonly ends: number;
  /** How many more than at that place are under way at one time, at most. */
  readonly peak: number;
}

/** A member with plans, and whether one of them throws at once. */
export interface PlannedMember {
  readonly target: Target;
  readonly throws: boolean;
}

/** The input of an explanation. */
export interface View {
  readonly evidence: Evidence;
  /** The stretch of the record that counts. */
  readonly window: Window;
  /** All claims of the check, each with the patterns whose entries it covers. */
  readonly wanted: readonly Wanting[];
  /** Those of some entries that come near a pattern of the claim, and that no other claim of the check has a better right to. */
  readonly toBlame: (entries: readonly HeldEntry[], event: HeldEvent) => readonly HeldEntry[];
  /** Whether another claim of the check wants an entry as it is. */
  readonly isWanted: (entry: HeldEntry) => boolean;
  /** Whether another claim of the check expects an entry by its arguments. */
  readonly isMeant: (entry: HeldEntry) => boolean;
}

/** How many events of one pattern there are to be. */
export interface Counted {
  readonly held: HeldEvent;
  readonly range: Range;
}

/** A pattern that a failed claim wants, and how many entries of it are missing. */
export interface Wanted {
  readonly event: HeldEvent;
  readonly missing: number;
}

/** A claim as written, with the patterns whose entries it covers. */
export interface Wanting {
  readonly notation: string;
  readonly events: readonly HeldEvent[];
}

/**
 * The parts of a kind of claim. A claim is a fold over the record's events: it starts in a state, each event that it
 * hears leads to another state, and the state tells how the claim stands. States are values and never change. A kind
 * need not know of undecided entries: the judge folds each way of deciding them.
 */
export interface ClaimParts<C extends HeldClaimBase, S> {
  hears(claim: C): Hearing;
  /**
   * @param since the tick after which its stretch begins; 0 for the whole record
   * @param outside the state of the same claim that has heard everything so far, if there is one
   */
  start(claim: C, since: number, outside: S | undefined): S;
  take(claim: C, state: S, event: Heard): S;
  same(claim: C, one: S, other: S): boolean;
  /** A key that equal states share, so few states have to be compared. Default: none. */
  bucket?(claim: C, state: S): unknown;
  stands(claim: C, state: S, evidence: Evidence): Standing;
  /**
   * For kinds that only count: whether a state has too little (-1), enough (0), or too much (1). It grows by one with
   * each matching entry, so the cases "none match" and "all match" bound every other.
   */
  side?(claim: C, state: S): -1 | 0 | 1;
  /** For kinds that only count: the state after all that is left is heard, if that is as it was. */
  rest?(claim: C, state: S, rest: Rest): S;
  /**
   * For kinds that marks change: the state once a stretch in which it is judged has ended at a tick. A mark that comes later
   * changes nothing of it.
   */
  closed?(claim: C, state: S, tick: number): S;
  /** Whether it may still come true, though only some patterns can still be met. Left out if it is not waited for. */
  hopes?(claim: C, state: S, isAlive: (event: HeldEvent) => boolean): boolean;
  /** The event that never occurred, if the claim holds for no other reason. */
  absent(claim: C, state: S): HeldEvent | HeldMark | undefined;
  /** Whether it matters which calls began before a stretch in which it is judged. Default: it does not. */
  mindsBeginnings?(claim: C): boolean;
  /** The numbers of the patterns of which a state asks whether an event fits them. Default: all. */
  asks?(claim: C, state: S): readonly number[];
  /** Why it does not hold, if it ended in a state. To be asked only if it does not. */
  explain(claim: C, view: View, state: S): Diagnosis | undefined;
  /** The patterns whose entries it covers. */
  uses(claim: C): readonly HeldEvent[];
  /** For kinds that judge another claim in stretches: that claim. */
  inner?(claim: C): HeldClaimBase;
  /** For kinds with stretches: the event that begins one; `undefined` for the beginning of the record. */
  begins?(claim: C): HeldEvent | HeldMark | undefined;
  /** For kinds that count the events of one pattern: how many of which. */
  counted?(claim: C): Counted;
  /** For kinds that ask whether entries are covered by other claims: of which targets. */
  asksCover?(claim: C): (target: Target) => boolean;
  /** The names of doubles that it mentions beside its patterns. */
  doubles?(claim: C): readonly string[];
  /** The events of which it needs more, according to a diagnosis of its own. Default: none known. */
  wants?(claim: C, found: Diagnosis): readonly Wanted[];
  /** For kinds whose diagnoses number their patterns: the pattern of a number. */
  patternAt?(claim: C, number: number): HeldEvent | undefined;
  /** Whether more events can make it true if it is not. */
  canComeTrue(claim: C): boolean;
  /** Whether more events can break it once it has come true. */
  canBreak(claim: C): boolean;
  /** Whether it holds for lack of events: on a record in which its members were never touched. */
  holdsOfNothing(claim: C): boolean;
  /** For kinds that say when an event may come: that event. */
  guarded?(claim: C): HeldEvent | undefined;
  /** Whether no record could break it, as far as that follows from its form. */
  isAlwaysTrue(claim: C): boolean;
  /** Whether two claims of the kind claim the same. */
  equal(one: C, other: C): boolean;
  print(claim: PartsOf<C>): string;
}
