import type { Site } from '../record/call-site.ts';
import type { Claim } from '../record/claim-type.ts';
import type { Entry } from '../record/entry.ts';
import { entryData } from '../record/entry-data.ts';
import type { HeldEntry } from '../record/journal.ts';
import type { Difference } from '../value/difference.ts';

/** Common to every diagnosis. */
export interface DiagnosisBase {
  /** The claim as written, or the rule. */
  readonly claim: string;
  /** The claim itself; `undefined` for a finding of a rule. */
  readonly of: Claim | undefined;
  /** Ids of the entries at fault, the first the likeliest. */
  readonly culprits: readonly number[];
  /** The call site of the first culprit, or the place where the faulty code was written. */
  readonly at: Site | undefined;
  /** The stretch of the record in which it was judged, if that was not all of it. */
  readonly stretch?: StretchData;
  /** Whether events that the claim hears were left out of the record at hand: then there are at least as many as told. */
  readonly isPart?: boolean;
  /** Where the claim was written. */
  readonly claimedAt?: Site | undefined;
  /** Where it was waited for and came true, before it broke. */
  readonly reachedAt?: Site | undefined;
  /** Where the test still waited for it when it failed. */
  readonly waitedAt?: Site | undefined;
}

/** A stretch of a record, from one tick to another; neither belongs to it. */
export interface StretchData {
  readonly after: number;
  readonly before: number;
  /** The entry whose beginning or end it began with. */
  readonly from: Entry | undefined;
}

/** An entry that comes near a pattern, and where it differs. */
export interface NearEntry {
  readonly entry: Entry;
  readonly differences: readonly Difference[];
  /** 0 if it matches; see `distanceOf`. */
  readonly distance: number;
  /** Where its arguments have changed since: `expected` is the recorded value, `received` the current one. */
  readonly changedSince: readonly Difference[];
  /** The earlier call that returned a value which was received here instead of the expected one, if there is one. */
  readonly source?: Entry;
}

/** A plan that does not match a call, and where the call differs from it. */
export interface NearPlan {
  readonly plan: string;
  readonly differences: readonly Difference[];
}

/** Entries that no claim covers, each with the nearest claim. */
export interface UnclaimedEntries {
  readonly entries: readonly { readonly entry: Entry; readonly nearest: NearPlan | undefined }[];
  readonly count: number;
}

/** The part of a diagnosis that is about one entry. */
export function aboutEntry(
  held: HeldEntry,
): Pick<DiagnosisBase, 'of' | 'culprits' | 'at'> & { readonly entry: Entry } {
  const entry = entryData(held);
  return { of: undefined, culprits: [entry.id], at: entry.site, entry };
}

/** The part of a diagnosis that names its claim. */
export function aboutClaim(claim: Claim): Pick<DiagnosisBase, 'claim' | 'of'> {
  return { claim: claim.notation, of: claim };
}
