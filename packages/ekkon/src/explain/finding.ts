import type { Range } from '../claim/multiplicity.ts';
import type { Difference } from '../match/difference.ts';
import type { Site } from '../record/call-site.ts';
import type { Entry } from '../record/entry.ts';

/** What kind of reason a finding gives. */
export type FindingCode =
  /** Fewer entries fit than claimed. */
  | 'missingCall'
  /** More entries fit than claimed. */
  | 'surplusCall'
  /** It depends on calls of which it cannot be told whether they fit. */
  | 'undecidedCall';

/** An entry that comes near a pattern, and where it differs. */
export interface NearEntry {
  readonly entry: Entry;
  readonly differences: readonly Difference[];
  /** 0 where it fits; see `distanceOf`. */
  readonly distance: number;
  /** Where its arguments read otherwise now: `claimed` is what was recorded, `recorded` what it reads now. */
  readonly changedSince: readonly Difference[];
}

/** How often a member was called. */
export interface Tally {
  readonly label: string;
  readonly calls: number;
}

/** One reason why a claim does not hold, as data; the words are made from it in reports. */
export interface Diagnosis {
  readonly code: FindingCode;
  /** The claim as written. */
  readonly claim: string;
  /** Ids of the entries at fault, the first the likeliest. */
  readonly culprits: readonly number[];
  /** What was claimed: the pattern as written. */
  readonly claimed: string;
  /** The arguments claimed, values and matchers; `undefined` where any would do. */
  readonly claimedArguments: readonly unknown[] | undefined;
  /** The member it speaks of, and the double that has it. */
  readonly member: string;
  readonly double: string;
  readonly range: Range;
  /** Every entry that fits. */
  readonly fitting: readonly Entry[];
  /** How often the member was called at all. */
  readonly calls: number;
  /** Calls of the member that do not fit, the nearest first. */
  readonly nearest: readonly NearEntry[];
  /** Where the first of the nearest differs. */
  readonly differences: readonly Difference[];
  /** The same arguments, sent to another member; those of the same double first. */
  readonly elsewhere: readonly Entry[];
  /** Where the member was never called: what was called instead, the same double's members first. */
  readonly instead: readonly Tally[];
  /** The call site of the first culprit. */
  readonly at: Site | undefined;
}

/** A diagnosis with the sentence that tells it. */
export interface Finding extends Diagnosis {
  readonly message: string;
}

/** All findings of one check. */
export interface Verdict {
  readonly holds: boolean;
  /** The ledger's name. */
  readonly ledger: string;
  /** How many claims were judged. */
  readonly claims: number;
  readonly findings: readonly Finding[];
}
