import type { HeldDuring } from '../claim/during.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Diagnosis } from '../explain/finding.ts';
import { callsOf, type HeldEvent } from '../pattern/event.ts';

/** A claim that does not hold, and why. */
export interface FailedClaim {
  readonly claim: HeldClaim;
  readonly diagnosis: Diagnosis;
  /** The place of its finding. */
  readonly at: number;
}

/** The claim inside all stretches. */
export function innermost(claim: HeldClaim): HeldClaim {
  return claim.kind === 'during' ? innermost((claim as HeldDuring).inner as HeldClaim) : claim;
}

/** What a claim that failed wants and did not hear: patterns, and how many of each are missing. */
export function wantedBy({
  claim,
  diagnosis,
}: FailedClaim): readonly { readonly event: HeldEvent; readonly missing: number }[] {
  const inner = innermost(claim);
  switch (diagnosis.code) {
    case 'missingCall':
      return inner.kind === 'count'
        ? [{ event: inner.held, missing: inner.range.least - diagnosis.fittingCount }]
        : [];
    case 'outOfOrder': {
      if (inner.kind !== 'order') return [];
      const { leaves } = inner.sequence();
      return diagnosis.problems.flatMap((problem) => {
        const event = problem.kind === 'surplus' ? undefined : leaves[problem.leaf];
        return event === undefined ? [] : [{ event, missing: 1 }];
      });
    }
    case 'tooEarly':
    case 'neverFollowed':
      return inner.kind === 'onlyAfter' || inner.kind === 'leadsTo'
        ? [{ event: inner.needed, missing: 1 }]
        : [];
    case 'wrongItems': {
      const { events } = partsOf(inner).hears(inner);
      return diagnosis.differences.flatMap(({ path: [at], kind }) => {
        const event = typeof at === 'number' && kind !== 'surplus' ? events[at] : undefined;
        return event === undefined || at === events.length - 1 ? [] : [{ event, missing: 1 }];
      });
    }
    default:
      return [];
  }
}

/** Where a claim that failed says that something is missing: between two entries, by their ids. */
export interface Place {
  readonly event: HeldEvent;
  readonly after: number;
  readonly before: number;
}

/** The places at which a sequence that failed misses something. */
export function placesIn({ claim, diagnosis }: FailedClaim): readonly Place[] {
  const inner = innermost(claim);
  if (diagnosis.code !== 'outOfOrder' || inner.kind !== 'order') return [];
  const { leaves } = inner.sequence();
  return diagnosis.problems.flatMap((problem) => {
    const event = problem.kind === 'missing' ? leaves[problem.leaf] : undefined;
    if (problem.kind !== 'missing' || event === undefined) return [];
    const { after, before } = problem;
    const latest = Number.POSITIVE_INFINITY;
    return [{ event, after: after?.entry.id ?? 0, before: before?.entry.id ?? latest }];
  });
}

/** The ids of the entries that a claim that failed has too much of, or at the wrong place. */
export function unwantedBy({ diagnosis }: FailedClaim): readonly number[] {
  switch (diagnosis.code) {
    case 'surplusCall':
      return diagnosis.fitting.map(({ id }) => id);
    case 'outOfOrder':
      return diagnosis.problems.flatMap((problem) =>
        problem.kind === 'missing' ? [] : [problem.moment.entry.id],
      );
    case 'tooEarly':
    case 'neverFollowed':
      return diagnosis.moments.map(({ entry }) => entry.id);
    case 'inFlight':
      return diagnosis.underWay.map(({ id }) => id);
    case 'unclaimedEntries':
      return diagnosis.entries.map(({ entry }) => entry.id);
    case 'wrongItems':
      return diagnosis.culprits;
    default:
      return [];
  }
}

/** The ids of entries beside which something came too early or too late: they may be what is at the wrong place. */
export function besideIn({ diagnosis }: FailedClaim): readonly number[] {
  switch (diagnosis.code) {
    case 'outOfOrder':
      return diagnosis.problems.flatMap((problem) =>
        problem.kind === 'early' || problem.kind === 'late'
          ? [problem.after, problem.before].flatMap((moment) => moment?.entry.id ?? [])
          : [],
      );
    case 'tooEarly':
      return diagnosis.first === undefined ? [] : [diagnosis.first.entry.id];
    default:
      return [];
  }
}

/** Whether a claim that failed may be about when something came, and not only whether. */
export function isOfOrder({ claim, diagnosis }: FailedClaim): boolean {
  return (
    claim.kind === 'during' ||
    ['outOfOrder', 'tooEarly', 'neverFollowed', 'inFlight'].includes(diagnosis.code)
  );
}

/** Whether a pattern's arguments say enough for what fits them to belong to it. */
export function tells(event: HeldEvent): boolean {
  const { claimed } = callsOf(event);
  return claimed !== undefined && claimed.items.length > 0;
}
