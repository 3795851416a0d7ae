import type { HeldDuring } from '../claim/during.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import type { Diagnoses, Diagnosis, FindingCode, OrderDiagnosis } from '../explain/finding.ts';
import type { RuleDiagnoses } from '../explain/rule-finding.ts';
import type { HeldEvent } from '../pattern/event.ts';

/** A claim that does not hold, and why. */
export interface FailedClaim {
  readonly claim: HeldClaim;
  readonly diagnosis: Diagnosis;
  /** The place of its finding. */
  readonly at: number;
}

/** A pattern that a failed claim wants, and how many entries of it are missing. */
export interface Wanted {
  readonly event: HeldEvent;
  readonly missing: number;
}

/** Where a claim that failed says that something is missing: between two entries, by their ids. */
export interface Place {
  readonly event: HeldEvent;
  readonly after: number;
  readonly before: number;
}

/** What a finding says of how the record would have to be altered. `claim` is the one inside all stretches. */
interface Hints<D> {
  /** What the claim wants and did not hear. */
  wanted?(claim: HeldClaim, diagnosis: D): readonly Wanted[];
  /** The ids of the entries that it has too much of, or at the wrong place. */
  unwanted?(diagnosis: D): readonly number[];
  /** The ids of entries beside which something came too early or too late. */
  beside?(diagnosis: D): readonly number[];
  /** Where something is missing. */
  places?(claim: HeldClaim, diagnosis: D): readonly Place[];
  /** Whether it may be about when something came, and not only whether. */
  readonly isOfOrder?: true;
}

/** What a precedence says that failed, either way. */
const precedence: Hints<Diagnoses['tooEarly']> = {
  wanted: (claim) =>
    claim.kind === 'onlyAfter' || claim.kind === 'leadsTo'
      ? [{ event: claim.needed, missing: 1 }]
      : [],
  unwanted: ({ moments }) => moments.map(({ entry }) => entry.id),
  beside: ({ first }) => (first === undefined ? [] : [first.entry.id]),
  isOfOrder: true,
};

const order: Hints<OrderDiagnosis> = {
  wanted: (claim, { problems }) =>
    problems.flatMap((problem) => {
      const event = problem.kind === 'surplus' ? undefined : leafOf(claim, problem.leaf);
      return event === undefined ? [] : [{ event, missing: 1 }];
    }),
  unwanted: ({ problems }) =>
    problems.flatMap((problem) => (problem.kind === 'missing' ? [] : [problem.moment.entry.id])),
  beside: ({ problems }) =>
    problems.flatMap((problem) =>
      problem.kind === 'early' || problem.kind === 'late'
        ? [problem.after, problem.before].flatMap((moment) => moment?.entry.id ?? [])
        : [],
    ),
  places: (claim, { problems }) =>
    problems.flatMap((problem) => {
      const event = problem.kind === 'missing' ? leafOf(claim, problem.leaf) : undefined;
      if (problem.kind !== 'missing' || event === undefined) return [];
      const latest = Number.POSITIVE_INFINITY;
      const [after, before] = [problem.after?.entry.id ?? 0, problem.before?.entry.id ?? latest];
      return [{ event, after, before }];
    }),
  isOfOrder: true,
};

function leafOf(claim: HeldClaim, leaf: number): HeldEvent | undefined {
  return claim.kind === 'order' ? claim.sequence().leaves[leaf] : undefined;
}

/** By code, but for what rules find; what no alteration of the record is the cause of has none. A code that is left out does not compile. */
const hints: {
  readonly [C in Exclude<FindingCode, keyof RuleDiagnoses>]: Hints<Diagnoses[C]> | undefined;
} = {
  missingCall: {
    wanted: (claim, { fittingCount }) =>
      claim.kind === 'count'
        ? [{ event: claim.held, missing: claim.range.least - fittingCount }]
        : [],
  },
  surplusCall: { unwanted: ({ fitting }) => fitting.map(({ id }) => id) },
  outOfOrder: order,
  tooEarly: precedence,
  neverFollowed: { ...precedence, beside: () => [] },
  inFlight: { unwanted: ({ underWay }) => underWay.map(({ id }) => id), isOfOrder: true },
  unclaimedEntries: { unwanted: ({ entries }) => entries.map(({ entry }) => entry.id) },
  wrongItems: {
    wanted(claim, { differences }) {
      const { events } = partsOf(claim).hears(claim);
      return differences.flatMap(({ path: [at], kind }) => {
        const isItem = typeof at === 'number' && kind !== 'surplus' && at < events.length - 1;
        const event = isItem ? events[at] : undefined;
        return event === undefined ? [] : [{ event, missing: 1 }];
      });
    },
    unwanted: ({ culprits }) => culprits,
  },
  undecidedCall: undefined,
  undecidedOrder: undefined,
  alwaysTrueClaim: undefined,
  vacuousClaim: undefined,
  unplannedCall: undefined,
  unknownMember: undefined,
  changedSlot: undefined,
  drift: undefined,
};

function hintsOf({ code }: Diagnosis): Hints<Diagnosis> | undefined {
  return (hints as Readonly<Record<string, unknown>>)[code] as Hints<Diagnosis> | undefined;
}

/** Whether an alteration of the record may be the cause of a finding. */
export function hasCause(diagnosis: Diagnosis): boolean {
  return hintsOf(diagnosis) !== undefined;
}

export function wantedBy({ claim, diagnosis }: FailedClaim): readonly Wanted[] {
  return hintsOf(diagnosis)?.wanted?.(innermost(claim), diagnosis) ?? [];
}

export function unwantedBy({ diagnosis }: FailedClaim): readonly number[] {
  return hintsOf(diagnosis)?.unwanted?.(diagnosis) ?? [];
}

export function besideIn({ diagnosis }: FailedClaim): readonly number[] {
  return hintsOf(diagnosis)?.beside?.(diagnosis) ?? [];
}

export function placesIn({ claim, diagnosis }: FailedClaim): readonly Place[] {
  return hintsOf(diagnosis)?.places?.(innermost(claim), diagnosis) ?? [];
}

export function isOfOrder({ claim, diagnosis }: FailedClaim): boolean {
  return claim.kind === 'during' || hintsOf(diagnosis)?.isOfOrder === true;
}

/** The claim inside all stretches. */
function innermost(claim: HeldClaim): HeldClaim {
  return claim.kind === 'during' ? innermost((claim as HeldDuring).inner as HeldClaim) : claim;
}
