import type { HeldClaim } from '../claim/kinds.ts';
import type { Diagnosis } from '../explain/finding.ts';
import type { UnawaitedDiagnosis } from '../explain/rule-finding.ts';
import type { CapturedSite } from '../record/call-site.ts';
import type { Journal } from '../record/journal.ts';
import type { Level } from '../record/member.ts';

/** The strictness rules. */
export type RuleName =
  | 'unplannedCall'
  | 'unclaimedCall'
  | 'unusedPlan'
  | 'unfinishedCall'
  | 'uncheckedClaim'
  | 'alwaysTrueClaim'
  | 'vacuousClaim'
  | 'swallowedCheck'
  | 'nothingChecked'
  | 'unawaitedWait'
  | 'changedArgument'
  | 'callAfterClose';

/** A ready-made set of levels. */
export type RuleSet = 'loose' | 'usual' | 'careful' | 'strict';

/** How strict each rule is. A plan that was not used may be a failure only if a call came near it. */
export type RuleLevels = { readonly [R in Exclude<RuleName, 'unusedPlan'>]: Level } & {
  readonly unusedPlan: Level | 'failIfNear';
};

/** One rule: how strict it is in each set, and what it finds when a ledger is closed. */
export interface Rule<R extends RuleName> {
  readonly levels: { readonly [S in RuleSet]: RuleLevels[R] };
  /** Left out if it is looked at elsewhere: at the call, or at the check. */
  readonly atClose?: (closing: Closing) => readonly Broken[];
}

/** What a rule finds, and how strict the rule is there: what it allows is not told. */
export interface Broken {
  readonly level: Exclude<Level, 'allow'>;
  readonly diagnosis: Diagnosis;
}

/** A ledger at the moment it is closed. */
export interface Closing {
  readonly journal: Journal;
  /** Ids of the entries that are accounted for. */
  readonly accounted: () => ReadonlySet<number>;
  /** Whether the test's body is known to have passed; `undefined` if nobody can tell. */
  readonly passed: boolean | undefined;
  /** The names of the doubles that were made, observed or taken over. */
  readonly doubles: readonly string[];
  /** The streams that are followed. */
  readonly streams: readonly {
    readonly label: string;
    readonly captured: CapturedSite | undefined;
  }[];
  /** The waits that nobody awaited. */
  readonly unawaited: readonly {
    readonly claim: HeldClaim;
    readonly diagnosis: UnawaitedDiagnosis;
  }[];
}
