import type { Site } from '../record/call-site.ts';
import type { Entry } from '../record/entry.ts';
import type { Difference } from '../value/difference.ts';
import type { DiagnosisBase, NearEntry, UnclaimedEntries } from './diagnosis.ts';

/** Entries that nothing covers, in a ledger whose rules want all of them covered. */
export interface UnclaimedCallDiagnosis extends DiagnosisBase, UnclaimedEntries {
  readonly code: 'unclaimedCall';
}

/** A plan that answered no call. */
export interface UnusedPlanDiagnosis extends DiagnosisBase {
  readonly code: 'unusedPlan';
  /** The plan as written. */
  readonly plan: string;
  readonly plannedAt: Site | undefined;
  readonly member: string;
  /** How often the member was called. */
  readonly calls: number;
  /** How many of these calls came before the plan was written. */
  readonly callsBefore: number;
  /** The calls that came nearest to it, the nearest first. */
  readonly nearest: readonly NearEntry[];
  /** Whether a newer plan answers all its calls. */
  readonly shadowed: boolean;
}

/** A call whose promise has not settled, and for how long. */
export interface PendingCall {
  readonly entry: Entry;
  /** Milliseconds. */
  readonly since: number;
  /** Whether it never will: it was planned to stall. */
  readonly stalls: boolean;
}

/** Calls whose promises have not settled. */
export interface PendingDiagnosis extends DiagnosisBase {
  /** They never did, as a rule wants; or not in the time that was waited. */
  readonly code: 'unfinishedCall' | 'stillPending';
  readonly pending: readonly PendingCall[];
}

/** Claims that were written and never judged, or bare patterns. */
export interface UncheckedDiagnosis extends DiagnosisBase {
  readonly code: 'uncheckedClaim';
  readonly is: 'claim' | 'pattern';
  /** Each as written, and where. */
  readonly written: readonly { readonly notation: string; readonly at: Site | undefined }[];
}

/** A wait that nobody awaited. */
export interface UnawaitedDiagnosis extends DiagnosisBase {
  readonly code: 'unawaitedWait';
  /** The claim it was for. */
  readonly waited: string;
  readonly word: 'reach' | 'stays';
  /** How it stood when the ledger was closed. */
  readonly state: 'open' | 'held' | 'failed';
}

/** Doubles that were called, or streams that were followed, though no claim was judged on that. */
export interface NothingCheckedDiagnosis extends DiagnosisBase {
  readonly code: 'nothingChecked';
  readonly calls: number;
  /** The first of them; `undefined` if there is none, and a stream is followed. */
  readonly entry: Entry | undefined;
  /** The streams that are followed, and the doubles that were made. */
  readonly streams: readonly string[];
  readonly doubles: readonly string[];
  /** How many claims were judged, all of them before anything was called. */
  readonly early: number;
  /** A pattern that was written, and that nothing uses. */
  readonly bare: { readonly notation: string; readonly at: Site | undefined } | undefined;
}

/** An argument that has changed since it was recorded. */
export interface ChangedArgumentDiagnosis extends DiagnosisBase {
  readonly code: 'changedArgument';
  readonly entry: Entry;
  /** `expected` is the recorded value, `received` the current one. */
  readonly changes: readonly Difference[];
}

/** A call that came after the ledger was closed. */
export interface LateCallDiagnosis extends DiagnosisBase {
  readonly code: 'callAfterClose';
  readonly entry: Entry;
  readonly ledger: string;
}

/** A stream that failed, if no claim mentions it. */
export interface FailedStreamDiagnosis extends DiagnosisBase {
  readonly code: 'failedStream';
  /** Its failure; the reason is the only argument. */
  readonly entry: Entry;
}

/** Calls that no plan answered, after which the code under test failed on `undefined`. */
export interface EmptyReplyDiagnosis extends DiagnosisBase {
  readonly code: 'emptyReply';
  /** One of each member, the last first. */
  readonly entries: readonly Entry[];
  /** The plans of the first one's member: none of them matches the call. */
  readonly plans: readonly string[];
}

/** A source whose subscription could not be ended. */
export interface ReleaseDiagnosis extends DiagnosisBase {
  readonly code: 'notReleased';
  readonly stream: string;
  readonly reason: unknown;
}

/** A record that was cut off: nobody knows what came after its last entry. */
export interface CutOffDiagnosis extends DiagnosisBase {
  readonly code: 'cutOff';
  /** The last entry that was read; `undefined` if there is none. */
  readonly entry: Entry | undefined;
}

/** A reply that failed: the code under test got the error, and may have swallowed it. */
export interface BrokenReplyDiagnosis extends DiagnosisBase {
  readonly code: 'brokenReply';
  readonly entry: Entry;
  /** An assertion inside of a reply, or a plan that could not be carried out. */
  readonly is: 'assertion' | 'plan';
  readonly reason: unknown;
}

/** A plan that did not answer a call, because Ekkon could not tell whether it matches. */
export interface UndecidedPlanDiagnosis extends DiagnosisBase {
  readonly code: 'undecidedPlan';
  readonly entry: Entry;
  readonly plan: string;
  /** Why it is not known. */
  readonly differences: readonly Difference[];
}

/** A check that threw, and whose error was swallowed. */
export interface SwallowedCheckDiagnosis extends DiagnosisBase {
  readonly code: 'swallowedCheck';
  /** The first finding, and how many checks threw. */
  readonly found: string;
  readonly checks: number;
}

/** The findings of strictness rules and of closing, by code. */
export interface RuleDiagnoses {
  readonly unclaimedCall: UnclaimedCallDiagnosis;
  readonly unusedPlan: UnusedPlanDiagnosis;
  readonly unfinishedCall: PendingDiagnosis;
  readonly stillPending: PendingDiagnosis;
  readonly uncheckedClaim: UncheckedDiagnosis;
  readonly unawaitedWait: UnawaitedDiagnosis;
  readonly nothingChecked: NothingCheckedDiagnosis;
  readonly changedArgument: ChangedArgumentDiagnosis;
  readonly callAfterClose: LateCallDiagnosis;
  readonly swallowedCheck: SwallowedCheckDiagnosis;
  readonly undecidedPlan: UndecidedPlanDiagnosis;
  readonly brokenReply: BrokenReplyDiagnosis;
  readonly cutOff: CutOffDiagnosis;
  readonly failedStream: FailedStreamDiagnosis;
  readonly emptyReply: EmptyReplyDiagnosis;
  readonly notReleased: ReleaseDiagnosis;
}
