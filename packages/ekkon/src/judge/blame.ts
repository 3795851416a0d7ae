import { countedBy, type HeldClaim, partsOf } from '../claim/kinds.ts';
import { nearnessTo } from '../explain/nearness.ts';
import { isOfOtherKind } from '../explain/other-kind.ts';
import { callsOf, type HeldEvent, tells } from '../pattern/event.ts';
import { eventDifferences, eventFit, speaksOf } from '../pattern/fit.ts';
import { fittingArguments } from '../pattern/fitting.ts';
import { makePatternIndex, type PatternIndex, patternsOf } from '../pattern/pattern-index.ts';
import { samePattern } from '../pattern/same-pattern.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';

/** Pairs of claims and entries that are weighed against each other at most. */
const pairsWeighed = 20_000;

interface Pair {
  readonly claim: HeldClaim;
  readonly entry: HeldEntry;
  readonly distance: number;
}

/** @param isMissing whether a claim fails since it has too little */
export function makeBlame(
  claims: readonly HeldClaim[],
  journal: Journal,
  isMissing: (claim: HeldClaim) => boolean,
): Blame {
  return new Blame(claims, journal, isMissing);
}

/**
 * Decides which failing claim may name which entry as its culprit. An entry that another claim expects by its
 * arguments is not to blame, and of claims that miss calls each gets as many entries as it misses, the nearest to it.
 */
export class Blame {
  private readonly claims: readonly HeldClaim[];
  private readonly journal: Journal;
  private readonly uses: readonly HeldEvent[];
  private index: PatternIndex | undefined;
  private missing: readonly HeldClaim[] | undefined;
  private tooFew: readonly HeldEvent[] | undefined;
  private readonly users = new Map<HeldEntry, readonly HeldEvent[]>();
  private assigned: ReadonlyMap<HeldEntry, HeldClaim> | undefined;
  private readonly isMissing: (claim: HeldClaim) => boolean;

  constructor(
    claims: readonly HeldClaim[],
    journal: Journal,
    isMissing: (claim: HeldClaim) => boolean,
  ) {
    this.claims = claims;
    this.journal = journal;
    this.isMissing = isMissing;
    this.uses = claims.flatMap((claim) => partsOf(claim).uses(claim));
  }

  /** Those of some entries that a claim may blame, as calls that should have matched one of its patterns. */
  left(claim: HeldClaim, entries: readonly HeldEntry[], event: HeldEvent): readonly HeldEntry[] {
    this.assigned ??= this.assign();
    return entries.filter((entry) => {
      if (this.isOwned(entry, claim) || isOfOtherKind(event, entry, this.uses)) return false;
      if (this.isOfTooFew(entry, event)) return false;
      const other = this.assigned?.get(entry);
      return other === undefined || other === claim || isCountOf(other, event);
    });
  }

  /** Whether another claim has too few such calls, whatever their arguments: then the missing one is none that came. */
  private isOfTooFew(entry: HeldEntry, event: HeldEvent): boolean {
    this.tooFew ??= this.findTooFew();
    return this.tooFew.some((held) => held !== event && eventFit(held, entry) === 'fits');
  }

  /** The claims that fail since they have too little. */
  private get missingClaims(): readonly HeldClaim[] {
    this.missing ??= this.claims.filter(this.isMissing);
    return this.missing;
  }

  private findTooFew(): readonly HeldEvent[] {
    const { entries } = this.journal;
    return this.missingClaims.flatMap((claim) => {
      const count = countedBy(claim);
      if (count === undefined || tells(count.held)) return [];
      const fitting = entries.filter((entry) => eventFit(count.held, entry) === 'fits');
      return fitting.length < count.range.least ? [count.held] : [];
    });
  }

  /** Whether another claim of the check wants an entry as it is. */
  isWanted(entry: HeldEntry, claim: HeldClaim): boolean {
    return isOthers(this.usersOf(entry), claim);
  }

  /** Whether another claim expects an entry by its arguments. */
  isMeant(entry: HeldEntry, claim: HeldClaim): boolean {
    return isOthers(this.ownersOf(entry), claim);
  }

  /**
   * Whether some claim expects an entry by its arguments, and would not expect it as another claim wants it: a claim
   * that says less about a call than the other does not mind.
   */
  isOwned(entry: HeldEntry, claim: HeldClaim): boolean {
    const owners = this.ownersOf(entry);
    const held = countedBy(claim)?.held;
    if (owners.length === 0) return false;
    if (held === undefined) return isOthers(owners, claim);
    const { lens } = callsOf(held);
    if (lens !== undefined) {
      const paths = eventDifferences(held, entry).map(({ path }) => path);
      return owners.some((event) => paths.some((path) => callsOf(event).lens?.minds(path) ?? true));
    }
    const args = fittingArguments(callsOf(held), entry.args);
    return args === undefined || owners.some((event) => !fitsWith(event, entry, args));
  }

  /** The patterns of claims that say something of the arguments, and that an entry fits. */
  private ownersOf(entry: HeldEntry): readonly HeldEvent[] {
    return this.usersOf(entry).filter(tells);
  }

  private usersOf(entry: HeldEntry): readonly HeldEvent[] {
    const known = this.users.get(entry);
    if (known !== undefined) return known;
    this.index ??= makePatternIndex(this.uses);
    const found = [...patternsOf(this.index, entry)]
      .sort((one, other) => one - other)
      .flatMap((at) => this.uses[at] ?? [])
      .filter((event) => eventFit(event, entry) === 'fits');
    this.users.set(entry, found);
    return found;
  }

  /** The nearest pairs first, each claim as often as it has too little, each entry once. */
  private assign(): ReadonlyMap<HeldEntry, HeldClaim> {
    // An assigned entry keeps other claims away from it, and there are none.
    if (this.missingClaims.length < 2) return new Map();
    const pairs: Pair[] = [];
    const left = new Map<HeldClaim, number>();
    const leftOf = (claim: HeldClaim) => left.get(claim) ?? 0;
    for (const claim of this.missingClaims) {
      const count = countedBy(claim);
      if (count === undefined) continue;
      const { held, range } = count;
      const nearness = nearnessTo(held, this.journal.entries);
      left.set(claim, range.least);
      for (const entry of this.journal.entries) {
        if (!speaksOf(callsOf(held), entry)) continue;
        if (eventFit(held, entry) === 'fits') {
          left.set(claim, leftOf(claim) - 1);
          continue;
        }
        if (this.isOwned(entry, claim) || isOfOtherKind(held, entry, this.uses)) continue;
        pairs.push({ claim, entry, distance: nearness.partly(entry) });
        if (pairs.length > pairsWeighed) return new Map();
      }
    }
    const found = new Map<HeldEntry, HeldClaim>();
    pairs.sort((one, other) => one.distance - other.distance || one.entry.id - other.entry.id);
    for (const { claim, entry } of pairs) {
      if (leftOf(claim) <= 0 || found.has(entry)) continue;
      left.set(claim, leftOf(claim) - 1);
      found.set(entry, claim);
    }
    return found;
  }
}

/** Whether a claim counts the events of one pattern: then another that has this pattern means the same call. */
function isCountOf(claim: HeldClaim, event: HeldEvent): boolean {
  const count = countedBy(claim);
  return count !== undefined && samePattern(count.held, event);
}

/** Whether one of some patterns is not of a claim itself. */
function isOthers(events: readonly HeldEvent[], claim: HeldClaim): boolean {
  if (events.length === 0) return false;
  const own = partsOf(claim).uses(claim);
  return events.some((event) => !own.includes(event));
}

function fitsWith(event: HeldEvent, entry: HeldEntry, args: readonly unknown[]): boolean {
  return eventFit(event, { ...entry, args }) === 'fits';
}
