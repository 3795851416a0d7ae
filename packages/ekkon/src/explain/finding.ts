import type { Range } from '../pattern/multiplicity.ts';
import type { Site } from '../record/call-site.ts';
import type { Entry } from '../record/entry.ts';
import type { Difference } from '../value/difference.ts';
import type { Cause } from './cause.ts';
import type { DiagnosisBase, NearEntry, NearPlan, UnclaimedEntries } from './diagnosis.ts';
import type { PendingCall, RuleDiagnoses } from './rule-finding.ts';
import type { Since } from './since.ts';

export type {
  DiagnosisBase,
  NearEntry,
  NearPlan,
  StretchData,
  UnclaimedEntries,
} from './diagnosis.ts';

/** How often a member was called. */
export interface Tally {
  readonly label: string;
  /** The double that has it. */
  readonly double: string;
  readonly calls: number;
}

/** An entry's beginning, or its end. */
export interface Moment {
  readonly entry: Entry;
  readonly end: boolean;
}

/** One thing that is wrong with an order. */
export type OrderProblem =
  /** An event came that has no place in the sequence. */
  | { readonly kind: 'surplus'; readonly moment: Moment }
  /** A step is missing between these two. */
  | {
      readonly kind: 'missing';
      readonly step: string;
      /** The number of the step's pattern in the sequence. */
      readonly leaf: number;
      /** If it begins a branch of an `either`: how all its branches begin, as written. */
      readonly branches: readonly string[];
      readonly after: Moment | undefined;
      readonly before: Moment | undefined;
      /** A call of the same member at that place that does not match. */
      readonly near:
        | { readonly entry: Entry; readonly differences: readonly Difference[] }
        | undefined;
    }
  /** A step came too early or too late: it had to come after the one and before the other. */
  | {
      readonly kind: 'early' | 'late';
      readonly moment: Moment;
      readonly step: string;
      readonly leaf: number;
      readonly after: Moment | undefined;
      readonly before: Moment | undefined;
    };

/** A sequence that did not come as claimed. */
export interface OrderDiagnosis extends DiagnosisBase {
  readonly code: 'outOfOrder';
  /** The cheapest explanation: as few problems as there are, the first the likeliest. */
  readonly problems: readonly OrderProblem[];
  /** Whether all of the record was searched for it. */
  readonly whole: boolean;
  /** The entries that matter, for the picture. */
  readonly lanes: readonly Entry[];
  /** How many entries of the sequence's members are left out. */
  readonly leftOut: number;
  /**
   * The claim that would hold instead: the sequence in a loop, or each step after an earlier one before it. The steps
   * as written.
   */
  readonly instead:
    | { readonly is: 'loop' | 'onlyAfter'; readonly steps: readonly string[] }
    | undefined;
}

/** An event without the one that must come before it, or after it. */
export interface PrecedenceDiagnosis extends DiagnosisBase {
  readonly code: 'tooEarly' | 'neverFollowed';
  readonly moments: readonly Moment[];
  /** The needed event, as written. */
  readonly needed: string;
  /** The first occurrence of the needed event, if there is one. */
  readonly first: Moment | undefined;
  /** A call that may be the one that was needed, if none was right: it does not match. */
  readonly near: NearEntry | undefined;
}

/** More, or fewer, calls under way at one time than claimed. */
export interface InFlightDiagnosis extends DiagnosisBase {
  readonly code: 'inFlight';
  readonly range: Range;
  readonly peak: number;
  /** The tick at which it was reached. */
  readonly tick: number;
  readonly underWay: readonly Entry[];
}

/** Entries that no claim covers, although a claim says that there are none. */
export interface UnclaimedDiagnosis extends DiagnosisBase, UnclaimedEntries {
  readonly code: 'unclaimedEntries';
}

/** A stream that gave other items than claimed. */
export interface ItemsDiagnosis extends DiagnosisBase {
  readonly code: 'wrongItems';
  readonly stream: string;
  readonly differences: readonly Difference[];
  /** How many items were claimed, and the entries of those that came. */
  readonly claimedItems: number;
  readonly items: readonly Entry[];
  /** Its end or its failure, if it came to one. */
  readonly ended: Entry | undefined;
}

/** A claim that holds only because its events never occurred. */
export interface VacuousDiagnosis extends DiagnosisBase {
  readonly code: 'vacuousClaim';
  /** The event that never occurred, as written. */
  readonly never: string;
  /** A call that may be the one that is meant, though it does not match. */
  readonly near: NearEntry | undefined;
  /** If nothing was recorded on the double, and no claim says otherwise: other doubles with its name. */
  readonly untouched?: { readonly double: string; readonly alike: readonly string[] };
}

/** A count that is not as claimed. */
export interface CountDiagnosis extends DiagnosisBase {
  /** Fewer calls match than expected, or more. */
  readonly code: 'missingCall' | 'surplusCall';
  /** The kind of the entries: `call` for calls and constructions. */
  readonly kind: 'call' | 'read' | 'write' | 'item' | 'end' | 'failure';
  /** For a stream that was to end or to fail: how it did end, if it did. */
  readonly streamEnded: Entry | undefined;
  /** Whether ends of calls are counted. */
  readonly ofEnd: boolean;
  /** The expected pattern as written. */
  readonly claimed: string;
  /** The arguments claimed, values and matchers; `undefined` if any would do. */
  readonly claimedArguments: readonly unknown[] | undefined;
  /** The member of the pattern, and the double that has it. */
  readonly member: string;
  readonly double: string;
  readonly range: Range;
  /** Whether a plan requires the count, and not a claim; and where the plan was written. */
  readonly isPlan: boolean;
  readonly plannedAt: Site | undefined;
  /** The calls that match, and how many there are. Of a long record only some are listed. */
  readonly fitting: readonly Entry[];
  readonly fittingCount: number;
  /** How often the member was called at all; `undefined` if that was not counted in the stretch. */
  readonly calls: number | undefined;
  /** Calls of the member that do not match, the nearest first. */
  readonly nearest: readonly NearEntry[];
  /** If no call is near: some of those that do not match, the first ones. */
  readonly others: readonly Entry[];
  /** Where the first of the nearest differs. */
  readonly differences: readonly Difference[];
  /** The same arguments, sent to another member; those of the same double first. */
  readonly elsewhere: readonly Entry[];
  /** If the member was never called: the calls that came instead, the same double's members first. */
  readonly instead: readonly Tally[];
  /** Whether nothing at all was recorded, and whether nothing was of the double. */
  readonly isFirst: boolean;
  readonly isUntouched: boolean;
}

/** A claim that depends on calls for which it is unknown whether they match. */
export interface UndecidedDiagnosis extends DiagnosisBase {
  readonly code: 'undecidedCall';
  /** Some of them, and why it is not known. */
  readonly undecided: readonly NearEntry[];
  readonly count: number;
  /** For a count: how many certainly match, and how many are expected. */
  readonly certain: { readonly fitting: number; readonly range: Range } | undefined;
  /** Whether there are so many that not all ways to decide them were looked at. */
  readonly tooMany: boolean;
}

/** A claim that depends on the order of two events, which is not known: their clocks are of two machines. */
export interface UndecidedOrderDiagnosis extends DiagnosisBase {
  readonly code: 'undecidedOrder';
  readonly between: readonly [Moment, Moment];
  /** Milliseconds by which they are apart, and those below which their order is not known. */
  readonly apart: number;
  readonly skew: number;
}

/** A claim that no record could break. */
export interface AlwaysTrueDiagnosis extends DiagnosisBase {
  readonly code: 'alwaysTrueClaim';
}

/** A call that nothing answers. */
export interface UnplannedDiagnosis extends DiagnosisBase {
  /** No plan matches it, or the class that the double stands for has no such member. */
  readonly code: 'unplannedCall' | 'unknownMember';
  readonly entry: Entry;
  /** The plans that exist for the member. */
  readonly plans: readonly NearPlan[];
  /** The class's members with names like it. */
  readonly alike: readonly string[];
  /** The call as a method could be declared. */
  readonly signature: string;
  /** The name of the class; `undefined` for an interface. */
  readonly type: string | undefined;
}

/** A slot that somebody else changed while Ekkon's replacement stood in it. */
export interface SlotDiagnosis extends DiagnosisBase {
  readonly code: 'changedSlot';
  readonly member: string;
  /** The error of putting it back, if it threw. */
  readonly threw?: unknown;
}

/** One way in which a double no longer matches the real thing. */
export interface Drift {
  readonly member: string;
  readonly kind: 'missing' | 'arity' | 'nature' | 'asynchronous';
  /** How the double was used, and how the real one is. */
  readonly double: string;
  readonly real: string;
}

/** A double that has drifted from the real thing. */
export interface DriftDiagnosis extends DiagnosisBase {
  readonly code: 'drift';
  readonly double: string;
  readonly drifts: readonly Drift[];
}

/** All findings by code. `report/` has the words for each. */
export interface Diagnoses extends RuleDiagnoses {
  readonly missingCall: CountDiagnosis;
  readonly surplusCall: CountDiagnosis;
  readonly undecidedCall: UndecidedDiagnosis;
  readonly undecidedOrder: UndecidedOrderDiagnosis;
  readonly alwaysTrueClaim: AlwaysTrueDiagnosis;
  readonly vacuousClaim: VacuousDiagnosis;
  readonly unplannedCall: UnplannedDiagnosis;
  readonly unknownMember: UnplannedDiagnosis;
  readonly changedSlot: SlotDiagnosis;
  readonly drift: DriftDiagnosis;
  readonly outOfOrder: OrderDiagnosis;
  readonly tooEarly: PrecedenceDiagnosis;
  readonly neverFollowed: PrecedenceDiagnosis;
  readonly inFlight: InFlightDiagnosis;
  readonly unclaimedEntries: UnclaimedDiagnosis;
  readonly wrongItems: ItemsDiagnosis;
}

/** The code of a finding: docs/findings.md explains each. */
export type FindingCode = keyof Diagnoses;

/** One reason why a claim or a rule does not hold, as data; the words are made from it in reports. */
export type Diagnosis = Diagnoses[FindingCode];

/** A diagnosis with the sentence that tells it. */
export type Finding = Diagnosis & {
  readonly message: string;
  /** Where the nearest entry differs; empty if that is not the fault. */
  readonly differences: readonly Difference[];
};

/** How a wait failed. */
export interface Waited {
  /** The time was over; no later event could make it hold; it held, and then it broke; or the work ended. */
  readonly ended: 'time' | 'lost' | 'broken' | 'finished';
  /** Milliseconds. */
  readonly after: number;
  /** The calls that were still pending. */
  readonly pending: readonly PendingCall[];
  /** The last event of the record, and how many milliseconds ago it was if that is known. */
  readonly last?: (Moment & { readonly ago: number | undefined }) | undefined;
}

/** All findings of one check. */
export interface Verdict {
  /**
   * Its form in JSON: sentences, ids, and printed values. It stands first, so code that copies objects between
   * processes stops here and never reaches the program's objects.
   */
  toJSON?(): unknown;
  readonly holds: boolean;
  /** The ledger's name. */
  readonly ledger: string;
  /** Whether it was made as the ledger was closed. */
  readonly closing: boolean;
  /** How many claims were judged. */
  readonly claims: number;
  /** How many entries there were, if only those that explain the result were kept. */
  readonly entries?: number;
  /** Where it was waited for. */
  readonly waited?: Waited;
  readonly findings: readonly Finding[];
  /** Changes of the record under which findings would disappear, the most explanatory first. */
  readonly causes: readonly Cause[];
  /** Whether there was too much to try, so no search for causes was completed. */
  readonly causesBounded?: true;
  /** What changed since the test last passed, if the record of that run was kept. */
  readonly since?: Since;
}
