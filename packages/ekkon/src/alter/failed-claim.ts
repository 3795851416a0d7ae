import { type HeldClaim, innermost, innerOf, partsOf } from '../claim/kinds.ts';
import type { Wanted } from '../claim/parts.ts';
import type { Diagnoses, Diagnosis, FindingCode, OrderDiagnosis } from '../explain/finding.ts';
import type { RuleDiagnoses } from '../explain/rule-finding.ts';
import type { HeldEvent } from '../pattern/event.ts';
import { eventFit } from '../pattern/fit.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Change } from './change.ts';

/** A claim that does not hold, and why. */
export interface FailedClaim {
  readonly claim: HeldClaim;
  readonly diagnosis: Diagnosis;
  /** The place of its finding. */
  readonly at: number;
}

/** Where a claim that failed says that something is missing: between two entries, by their ids. */
export interface Missing {
  readonly event: HeldEvent;
  readonly after: number;
  readonly before: number;
  /** The entry that came in its place, if one is known. */
  readonly instead: number | undefined;
}

/** How a finding suggests changing the record. `claim` is the one inside all stretches. */
interface Hints<D> {
  /** The ids of the entries that it has too much of, or at the wrong place. */
  unwanted?(diagnosis: D): readonly number[];
  /** The ids of entries beside which something came too early or too late. */
  beside?(diagnosis: D): readonly number[];
  /** Where something is missing. */
  places?(claim: HeldClaim, diagnosis: D): readonly Missing[];
  /** Whether a change, given only the events that the claim hears, makes it fail for more than before. */
  worsens?(failed: FailedClaim, change: Change): boolean;
  /** Whether it may be about when something came, and not only whether. */
  readonly isOfOrder?: true;
}

/** The hints of a failed precedence, in either direction. */
const precedence: Hints<Diagnoses['tooEarly']> = {
  unwanted: ({ moments }) => moments.map(({ entry }) => entry.id),
  beside: ({ first }) => (first === undefined ? [] : [first.entry.id]),
  isOfOrder: true,
};

const order: Hints<OrderDiagnosis> = {
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
      const event =
        problem.kind === 'missing' ? partsOf(claim).patternAt?.(claim, problem.leaf) : undefined;
      if (problem.kind !== 'missing' || event === undefined) return [];
      const latest = Number.POSITIVE_INFINITY;
      const [after, before] = [problem.after?.entry.id ?? 0, problem.before?.entry.id ?? latest];
      return [{ event, after, before, instead: problem.near?.entry.id }];
    }),
  worsens(failed, { without, added }) {
    const unwanted = unwantedBy(failed);
    const wanted = wantedBy(failed).map(({ event }) => event);
    const needed = without.filter(({ id }) => !unwanted.includes(id));
    const isForeign = (entry: HeldEntry) =>
      !wanted.some((event) => eventFit(event, entry) === 'fits');
    return needed.length > added.length || added.some(isForeign);
  },
  isOfOrder: true,
};

/**
 * By code, except for findings of rules. A finding that no change of the record can cause has no hints. A missing
 * code does not compile.
 */
const hints: {
  readonly [C in Exclude<FindingCode, keyof RuleDiagnoses>]: Hints<Diagnoses[C]> | undefined;
} = {
  missingCall: { worsens: (_, { without, added }) => without.length > added.length },
  surplusCall: {
    unwanted: ({ fitting }) => fitting.map(({ id }) => id),
    worsens: (_, { without, added }) => added.length > without.length,
  },
  outOfOrder: order,
  tooEarly: precedence,
  // An event that needs a successor is no fault: its successor is missing.
  neverFollowed: { isOfOrder: true },
  inFlight: { unwanted: ({ underWay }) => underWay.map(({ id }) => id), isOfOrder: true },
  unclaimedEntries: { unwanted: ({ entries }) => entries.map(({ entry }) => entry.id) },
  wrongItems: { unwanted: ({ culprits }) => culprits },
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
  const inner = innermost(claim);
  return hasCause(diagnosis) ? (partsOf(inner).wants?.(inner, diagnosis) ?? []) : [];
}

export function unwantedBy({ diagnosis }: FailedClaim): readonly number[] {
  return hintsOf(diagnosis)?.unwanted?.(diagnosis) ?? [];
}

/**
 * Whether a change makes a failed claim fail for more than before: it removes an event that the claim needs, or adds
 * one that it has no place for.
 */
export function isWorseAfter(failed: FailedClaim, { without, added }: Change): boolean {
  const { claim, diagnosis } = failed;
  const worsens = hintsOf(diagnosis)?.worsens;
  if (worsens === undefined) return false;
  const inner = innermost(claim);
  const heard = partsOf(inner)
    .hears(inner)
    .events.flatMap((event) => event ?? []);
  const those = (entries: readonly HeldEntry[]) =>
    entries.filter((entry) => heard.some((event) => eventFit(event, entry) === 'fits'));
  return worsens(failed, { without: those(without), added: those(added) });
}

export function besideIn({ diagnosis }: FailedClaim): readonly number[] {
  return hintsOf(diagnosis)?.beside?.(diagnosis) ?? [];
}

export function placesIn({ claim, diagnosis }: FailedClaim): readonly Missing[] {
  return hintsOf(diagnosis)?.places?.(innermost(claim), diagnosis) ?? [];
}

export function isOfOrder({ claim, diagnosis }: FailedClaim): boolean {
  return innerOf(claim) !== undefined || hintsOf(diagnosis)?.isOfOrder === true;
}
