import type { HeldClaim } from '../claim/kinds.ts';
import type { Diagnosis } from '../explain/finding.ts';
import type { UnawaitedDiagnosis } from '../explain/rule-finding.ts';
import type { CapturedSite } from '../record/call-site.ts';
import type { Journal } from '../record/journal.ts';
import type { Level } from '../record/member.ts';

/** A ready-made set of levels. */
export type RuleSet = 'loose' | 'usual' | 'careful' | 'strict';

/** One rule: its level in each set, and its findings when a ledger is closed. */
export interface Rule<L = Level> {
  readonly levels: { readonly [S in RuleSet]: L };
  /** Left out if the rule is applied elsewhere: at the call, or at the check. */
  readonly atClose?: (closing: Closing) => readonly Broken[];
}

/** A finding of a rule, with the rule's level there. A finding at the level `allow` is not told. */
export interface Broken {
  readonly level: Exclude<Level, 'allow'>;
  readonly diagnosis: Diagnosis;
}

/** Ids of entries that are covered, and whether there are any. */
export type Accounted = Pick<ReadonlySet<number>, 'has' | 'size'>;

/** A ledger at the moment it is closed. */
export interface Closing {
  readonly journal: Journal;
  /** Ids of the entries that are covered. */
  readonly accounted: () => Accounted;
  /** How many entries are not, if the journal has only some of them. */
  readonly unclaimedCount?: number;
  /** Whether the test's body is known to have passed; `undefined` if nobody can tell. */
  readonly passed: boolean | undefined;
  /** The names of the doubles that were made, observed or taken over, each with the one that was asked for. */
  readonly doubles: ReadonlyMap<string, string>;
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
