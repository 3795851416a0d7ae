import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Evidence } from '../claim/parts.ts';
import type { Alteration, FoundCause, FoundCauses } from '../explain/cause.ts';
import type { Diagnosis } from '../explain/finding.ts';
import { sameValues } from '../match/same-value.ts';
import { printTarget } from '../notation/label.ts';
import { callsOf, type HeldEvent, targetOf, tells } from '../pattern/event.ts';
import { eventDifferences, eventFit } from '../pattern/fit.ts';
import { makePatternIndex, type PatternIndex, patternsOf } from '../pattern/pattern-index.ts';
import { samePattern } from '../pattern/same-pattern.ts';
import type { Entry } from '../record/entry.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Target } from '../record/target.ts';
import { grouped } from '../value/grouped.ts';
import { printsAs } from '../value/prints-as.ts';
import {
  type Candidate,
  changesOfCalls,
  changesOfPlaces,
  isTimed,
  type Search,
} from './candidates.ts';
import { both, type Change, noChange } from './change.ts';
import { type FailedClaim, hasCause, isWorseAfter, wantedBy } from './failed-claim.ts';
import { severalFor } from './several.ts';
import { type Opening, Tracks } from './tracks.ts';

/** Candidates that are judged, and events that are folded for them, before the search is given up. */
const candidatesTried = 2_000;
const eventsTried = 200_000;

/** Entries of a record beyond which no cause is looked for. */
const entriesSearched = 20_000;

/** The order of preference among changes that explain equally much. */
const ranks: Readonly<Record<Alteration, number>> = {
  drop: 0,
  argument: 1,
  outcome: 2,
  member: 3,
  insert: 4,
  move: 5,
  tail: 6,
  repeat: 7,
};

/** The penalty of entries that another claim owns. */
const owned = 10;

/**
 * The fewest changes of a record under which its failed claims would hold, found greedily: the change that explains
 * most, then the one that explains most of the rest, each without making another claim fail.
 *
 * @param claims all claims of the check
 * @param found their findings
 */
export function causesOf(
  claims: readonly HeldClaim[],
  found: readonly Diagnosis[],
  evidence: Evidence,
): FoundCauses {
  const failed = failedOf(claims, found);
  if (failed.length === 0) return noCauses;
  if (evidence.journal.entries.length > entriesSearched) return { causes: [], isBounded: true };
  const failing = new Set(failed.map(({ claim }) => claim));
  const tracks = new Tracks(claims, evidence);
  // An undecided claim neither holds nor fails, so it does not count.
  const holding = claims.filter(
    (claim) => !failing.has(claim) && tracks.judgedAfter(claim, noChange) === 'holds',
  );
  const trial = new Trial(tracks, evidence, holding, failed);
  const causes: FoundCause[] = [];
  let change = noChange;
  let left = failed;
  for (let round = 0; left.length > 0 && !trial.isSpent; round++) {
    const best = trial.best(left, change, round);
    if (best === undefined) break;
    causes.push(best.cause);
    change = best.change;
    trial.keep(left.filter(({ at }) => best.cause.explains.includes(at)));
    left = left.filter(({ at }) => !best.cause.explains.includes(at));
  }
  return { causes, isBounded: trial.isSpent };
}

const noCauses: FoundCauses = { causes: [], isBounded: false };

function failedOf(
  claims: readonly HeldClaim[],
  found: readonly Diagnosis[],
): readonly FailedClaim[] {
  return found.flatMap((diagnosis, at) => {
    const claim = claims.find((each) => each === diagnosis.of);
    return claim !== undefined && hasCause(diagnosis) ? [{ claim, diagnosis, at }] : [];
  });
}

interface Tried {
  readonly candidate: Candidate;
  readonly explains: readonly FailedClaim[];
  readonly rank: number;
}

interface Best {
  readonly cause: FoundCause;
  readonly change: Change;
}

/** Tries candidates one after the other, and finds the best of them. */
class Trial {
  private readonly tracks: Tracks;
  private readonly evidence: Evidence;
  private readonly holding: Set<HeldClaim>;
  private readonly owning: readonly HeldEvent[];
  private readonly owners: PatternIndex;
  private readonly patterns: readonly HeldEvent[];
  private readonly wanting: ReadonlyMap<Target, readonly HeldEvent[]>;
  private readonly wanted = new Map<HeldEntry, boolean>();
  private readonly near: Search['near'] = new Map();
  /** How many claims failed before anything was explained. */
  private readonly failedFirst: number;
  private count = 0;

  constructor(
    tracks: Tracks,
    evidence: Evidence,
    holding: readonly HeldClaim[],
    failed: readonly FailedClaim[],
  ) {
    this.tracks = tracks;
    this.failedFirst = failed.length;
    this.evidence = evidence;
    this.holding = new Set(holding);
    this.owning = usedBy(holding).filter(tells);
    this.owners = makePatternIndex(this.owning);
    this.patterns = usedBy([...holding, ...failed.map(({ claim }) => claim)]);
    this.wanting = mostTelling(this.patterns);
  }

  /** From now on the mended claims must keep holding. */
  keep(mended: readonly FailedClaim[]): void {
    for (const { claim } of mended) this.holding.add(claim);
  }

  /** Whether more was tried than is allowed. */
  get isSpent(): boolean {
    return this.count > candidatesTried || this.tracks.record.taken > eventsTried;
  }

  best(failed: readonly FailedClaim[], before: Change, round: number): Best | undefined {
    const { journal } = this.evidence;
    const { tracks, near } = this;
    let gaps: readonly Opening[] | undefined;
    const search: Search = {
      journal,
      tracks,
      failed,
      round,
      near,
      beside: new Map(),
      patterns: this.patterns,
      isClaimed: (entry) => this.isClaimed(entry),
      get gaps() {
        gaps ??= tracks.gapsFor(failed.map(({ claim }) => claim));
        return gaps;
      },
    };
    /** The failed claims of which one entry is a wrong call: it came, if not as claimed. */
    const mendable = new Set<FailedClaim>();
    let best: readonly Tried[] = [];
    const tryAll = (candidates: Iterable<Candidate>) => {
      for (const candidate of candidates) {
        if (this.isSpent) return;
        best = this.tried(candidate, { failed, before, best, mendable });
      }
    };
    tryAll(changesOfCalls(search));
    const most = () => best[0]?.explains.length ?? 0;
    const together =
      most() < failed.length ? this.several(search, before, most(), mendable) : undefined;
    if (most() < failed.length) tryAll(changesOfPlaces(search));
    if (together !== undefined && together.cause.explains.length > most()) return together;
    const single = chosen(best);
    if (single === undefined) return together;
    const change = both(before, single[0].candidate.change);
    return { cause: told(single, search), change };
  }

  /** The best candidates so far, after one more was tried. */
  private tried(
    candidate: Candidate,
    {
      failed,
      before,
      best,
      mendable,
    }: {
      readonly failed: readonly FailedClaim[];
      readonly before: Change;
      readonly best: readonly Tried[];
      readonly mendable: Set<FailedClaim>;
    },
  ): readonly Tried[] {
    // An entry that an earlier cause mended is as it should be.
    if (candidate.change.without.some((entry) => before.without.includes(entry))) return best;
    this.count++;
    const isMend = mends.has(candidate.alteration);
    const most = best[0]?.explains.length ?? 1;
    const explains = this.explains(failed, both(before, candidate.change), isMend ? 1 : most);
    if (candidate.isFar === true && !isSpokenFor(candidate, explains)) return best;
    if (candidate.alteration === 'member') {
      // If nothing is said of the arguments, it is believed only if it explains all, and calls of the other are too many.
      const least = saysArguments(candidate) ? 1 : Math.max(2, this.failedFirst);
      if (explains.length < least || !explains.some(wants(candidate.event))) return best;
    }
    if (isMend) for (const each of explains) mendable.add(each);
    if (explains.length === 0 || explains.length < most) return best;
    const tried = { candidate, explains, rank: this.rankOf(candidate) };
    return explains.length > most || best.length === 0 ? [tried] : [...best, tried];
  }

  /** The best change of several entries at once, if it explains more than any single change. */
  private several(
    search: Search,
    before: Change,
    explained: number,
    mendable: ReadonlySet<FailedClaim>,
  ): Best | undefined {
    let best: Best | undefined;
    for (const { change, needs = [], mendsMissing, tell } of severalFor(search)) {
      const least = Math.max(2, explained + 1, (best?.cause.explains.length ?? 0) + 1);
      const whole = both(before, change);
      const explains = this.explains(search.failed, whole, least);
      // A call that came, even if not as expected, is not missing.
      const absent = explains.filter((each) => !mendable.has(each));
      if (explains.length < least || needs.some((each) => !explains.includes(each))) continue;
      if (mendsMissing && 2 * absent.length <= explains.length) continue;
      const cause: FoundCause = {
        claimed: undefined,
        member: undefined,
        differences: [],
        between: undefined,
        ...tell(),
        explains: explains.map(({ at }) => at),
      };
      best = { cause, change: whole };
    }
    return best;
  }

  /** The failed claims that hold after a change; none if they are fewer than others explain, or if one fails that held. */
  private explains(
    failed: readonly FailedClaim[],
    change: Change,
    least: number,
  ): readonly FailedClaim[] {
    const concerned = this.tracks.concernedBy(change);
    const explained = failed.filter(
      ({ claim }) => concerned.has(claim) && this.tracks.judgedAfter(claim, change) === 'holds',
    );
    if (explained.length < least) return [];
    for (const claim of concerned)
      if (this.holding.has(claim) && this.tracks.judgedAfter(claim, change) !== 'holds') return [];
    const isMended = new Set(explained);
    for (const each of failed)
      if (!isMended.has(each) && concerned.has(each.claim) && isWorseAfter(each, change)) return [];
    return explained;
  }

  private isClaimed(entry: HeldEntry): boolean {
    const known = this.wanted.get(entry);
    if (known !== undefined) return known;
    const events = this.wanting.get(entry.target) ?? [];
    const isWanted = events.some((event) => eventFit(event, entry) === 'fits');
    this.wanted.set(entry, isWanted);
    return isWanted;
  }

  private rankOf({ alteration, entry, change, isUnasked }: Candidate): number {
    // A call that nobody asks for is less likely than one that moved.
    const rank = isUnasked === true ? ranks.move + 0.5 : ranks[alteration];
    if (entry === undefined || (alteration !== 'argument' && alteration !== 'member')) return rank;
    const [mended] = change.added;
    const isOwned = patternsOf(this.owners, entry).some((at) => {
      const event = this.owning[at];
      if (event === undefined || eventFit(event, entry) !== 'fits') return false;
      return mended === undefined || eventFit(event, mended) !== 'fits';
    });
    return isOwned ? rank + owned : rank;
  }
}

/** The patterns whose entries claims want. */
function usedBy(claims: readonly HeldClaim[]): readonly HeldEvent[] {
  return claims.flatMap((claim) => partsOf(claim).uses(claim));
}

/** The patterns of each target: if some say which arguments its calls have, those alone. */
function mostTelling(events: readonly HeldEvent[]): ReadonlyMap<Target, readonly HeldEvent[]> {
  const byTarget = [...grouped(events, targetOf)].map(([target, own]) => {
    const telling = own.filter(tells);
    return [target, telling.length > 0 ? telling : own] as const;
  });
  return new Map(byTarget);
}

/** The alterations that make one call into another. */
const mends: ReadonlySet<Alteration> = new Set(['argument', 'outcome', 'member']);

/** Whether a finding names a call that is far from the expected one, or the call mends more than one claim. */
function isSpokenFor({ entry }: Candidate, explains: readonly FailedClaim[]): boolean {
  const [first, another] = explains;
  if (first === undefined || entry === undefined) return false;
  return another !== undefined || first.diagnosis.culprits.includes(entry.id);
}

function saysArguments({ event }: Candidate): boolean {
  return event !== undefined && callsOf(event).claimed !== undefined;
}

/** Whether a failed claim needs more events that match a pattern. */
function wants(event: HeldEvent | undefined) {
  return (failed: FailedClaim): boolean =>
    event !== undefined && wantedBy(failed).some((want) => samePattern(want.event, event));
}

/** The best of those that explain as much: of one kind, and of the same claims. */
function chosen(best: readonly Tried[]): readonly [Tried, ...Tried[]] | undefined {
  const [first] = [...best].sort(
    (one, other) =>
      one.rank - other.rank ||
      one.candidate.distance - other.candidate.distance ||
      unnamedBy(one) - unnamedBy(other),
  );
  if (first === undefined) return undefined;
  const alike = best.filter(
    (each) =>
      each !== first &&
      each.rank === first.rank &&
      each.candidate.alteration === first.candidate.alteration &&
      each.explains.length === first.explains.length &&
      each.explains.every(({ at }, place) => at === first.explains[place]?.at),
  );
  return [first, ...alike];
}

/** How many of the findings that the change of an entry explains tell of another entry first. */
function unnamedBy({ candidate: { entry }, explains }: Tried): number {
  if (entry === undefined) return 0;
  return explains.filter(({ diagnosis }) => diagnosis.culprits[0] !== entry.id).length;
}

/** The report of candidates that are equally good. */
function told(all: readonly [Tried, ...Tried[]], search: Search): FoundCause {
  const [{ candidate, explains }] = all;
  const { alteration, entry, event } = candidate;
  const cause = {
    alteration,
    entries: entry === undefined ? [] : [entryData(entry)],
    claimed:
      event === undefined
        ? undefined
        : (alteration === 'insert' ? callsOf(event) : event)[printsAs],
    member:
      alteration === 'member' && event !== undefined
        ? callsOf(event).member.target.label
        : undefined,
    differences:
      alteration === 'argument' || alteration === 'outcome' ? differences(candidate) : [],
    between: undefined,
    explains: explains.map(({ at }) => at),
  };
  const others = all.map((each) => each.candidate);
  switch (alteration) {
    case 'insert': {
      const between = gapOf(
        others.filter((each) => each.event === event && each.distance === candidate.distance),
        search,
      );
      const hasPlace = between.some((entry) => entry !== undefined);
      return {
        ...cause,
        between,
        ...(hasPlace || event === undefined ? {} : uncalled(event, search)),
      };
    }
    case 'move': {
      const swapped = neighbour(others, search);
      if (swapped !== undefined) return { ...cause, entries: swapped.map(entryData) };
      return {
        ...cause,
        between: gapOf(
          others.filter((each) => each.entry === entry),
          search,
        ),
      };
    }
    default: {
      const isLike = (other: HeldEntry | undefined) =>
        alteration === 'member' && !saysArguments(candidate)
          ? other?.target === entry?.target
          : isEqual(other, entry);
      const equal = others.filter((each) => each.entry === entry || isLike(each.entry));
      const entries = [...new Set(equal.flatMap((each) => each.entry ?? []))];
      return { ...cause, entries: entries.sort((one, other) => one.id - other.id).map(entryData) };
    }
  }
}

function differences({ entry, event }: Candidate) {
  return entry === undefined || event === undefined ? [] : eventDifferences(event, entry);
}

function isEqual(one: HeldEntry | undefined, other: HeldEntry | undefined): boolean {
  return one !== undefined && one.target === other?.target && sameValues(one.args, other.args);
}

/** The report of a member that was never called. */
function uncalled(event: HeldEvent, { journal }: Search): Partial<FoundCause> {
  const { of, member } = callsOf(event);
  if (journal.entries.some(({ target }) => target === member.target)) return {};
  return {
    missing: [printTarget(member.target)],
    counts: { received: 0, missing: 1, kind: of },
  };
}

/**
 * The entries between which something is to be put in: of those heard by the claims to which it matters when it comes,
 * the last before neighbouring places, and the first behind them.
 */
function gapOf(
  candidates: readonly Candidate[],
  { tracks }: Search,
): readonly [Entry | undefined, Entry | undefined] {
  const [one] = candidates;
  // Every place is as good.
  if (one?.gap === undefined) return [undefined, undefined];
  const places = new Set(candidates.map(({ gap }) => gap));
  const { gap: first } = one;
  let last = first;
  while (places.has(last + 1)) last++;
  const ticks = candidates
    .filter(({ gap }) => gap !== undefined && gap >= first && gap <= last)
    .flatMap(({ change }) => change.added.map(({ began }) => began));
  const openings = tracks.gapsFor([...tracks.concernedBy(one.change)].filter(isTimed));
  const around = (tick: number) => openings.findLast((opening) => (opening.ticks[0] ?? 0) <= tick);
  const [after, before] = [around(Math.min(...ticks))?.after, around(Math.max(...ticks))?.before];
  return [after && entryData(after), before && entryData(before)];
}

/** Two entries of which either could be moved past the other. */
function neighbour(
  candidates: readonly Candidate[],
  { gaps }: Search,
): readonly [HeldEntry, HeldEntry] | undefined {
  const [first] = candidates;
  if (first?.entry === undefined) return undefined;
  for (const other of candidates) {
    if (other.entry === undefined || other.entry === first.entry) continue;
    const [one, two] = [first.entry, other.entry].sort((a, b) => a.began - b.began) as [
      HeldEntry,
      HeldEntry,
    ];
    const isBetween = gaps.some(
      ({ after }) => after !== undefined && after.began > one.began && after.began < two.began,
    );
    if (!isBetween) return [one, two];
  }
  return undefined;
}
