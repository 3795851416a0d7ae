import type { Difference } from '../match/difference.ts';
import type { Site } from '../record/call-site.ts';
import type { Entry } from '../record/entry.ts';
import type { HeldEntry } from '../record/ledger-record.ts';
import { entryData } from '../record/recording.ts';

/** What every diagnosis has. */
export interface DiagnosisBase {
  /** The claim as written, or the rule. */
  readonly claim: string;
  /** Ids of the entries at fault, the first the likeliest. */
  readonly culprits: readonly number[];
  /** The call site of the first culprit, or the place at which what is at fault was written. */
  readonly at: Site | undefined;
  /** The stretch of the record in which it was judged, where that was not all of it. */
  readonly stretch?: StretchData;
  /** Where the claim was written. */
  readonly claimedAt?: Site | undefined;
  /** Where it was waited for and came true, before it broke. */
  readonly reachedAt?: Site | undefined;
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
  /** 0 where it fits; see `distanceOf`. */
  readonly distance: number;
  /** Where its arguments read otherwise now: `claimed` is what was recorded, `recorded` what it reads now. */
  readonly changedSince: readonly Difference[];
}

/** A plan that does not fit a call, and where the call differs from it. */
export interface NearPlan {
  readonly plan: string;
  readonly differences: readonly Difference[];
}

/** Entries that no claim speaks of, each with the claim that came nearest to it. */
export interface UnclaimedEntries {
  readonly entries: readonly { readonly entry: Entry; readonly nearest: NearPlan | undefined }[];
  readonly count: number;
}

/** What a diagnosis says that is about one entry. */
export function aboutEntry(
  held: HeldEntry,
): Pick<DiagnosisBase, 'culprits' | 'at'> & { readonly entry: Entry } {
  const entry = entryData(held);
  return { culprits: [entry.id], at: entry.site, entry };
}
