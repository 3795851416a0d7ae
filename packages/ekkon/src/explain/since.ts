import type { Entry } from '../record/entry.ts';
import type { Difference } from '../value/difference.ts';

/** What became of one call since the last run that passed. `E` is how calls are held. */
export type Change<E = Entry> =
  /** It came then, and does not come now: `after` is the call right before it. */
  | { readonly is: 'gone'; readonly was: E; readonly after: E | undefined }
  /** It comes now, and did not then. */
  | { readonly is: 'new'; readonly now: E }
  /** Another member was called in its place. */
  | { readonly is: 'replaced'; readonly was: E; readonly now: E }
  /** Its arguments or its outcome changed: `expected` was then, `received` is now. */
  | {
      readonly is: 'changed' | 'outcome';
      readonly was: E;
      readonly now: E;
      readonly differences: readonly Difference[];
    }
  /** It (for `ended`: its end) is on the other side of the beginning of another call: now before it, or after it. */
  | {
      readonly is: 'moved' | 'ended';
      readonly was: E;
      readonly now: E;
      readonly beside: E;
      readonly isBefore: boolean;
    };

/** Changes that are reported as one: calls that are gone or new together, or a change that later calls repeat. */
export interface ChangeGroup {
  readonly changes: readonly [Change, ...Change[]];
  /** The ids of later calls in which values differ in the same way. */
  readonly again: readonly number[];
}

/** What changed since the test last passed. */
export interface Since {
  /** When it last passed, in milliseconds since the epoch, and how many calls it made then. */
  readonly passedAt: number;
  readonly calls: number;
  /** In the order of time; none if nothing changed. */
  readonly groups: readonly ChangeGroup[];
  /** The earliest change to a member that a failing claim mentions, if that is not the first. */
  readonly firstClaimed: Change | undefined;
  /** How many calls are not as they were. */
  readonly changedCalls: number;
  /** If the test stopped on an error of its own: after which call, and how many came later then. */
  readonly stopped?: { readonly after: Entry | undefined; readonly later: number };
  /** How many differences were left out because they are found between passing runs, too. */
  readonly unsteady: number;
  /** In how many calls it cannot be told whether the values are equal. */
  readonly undecided: number;
  /** If the records have hardly anything in common: how often each member was called then and now, where that differs. */
  readonly counts?: readonly {
    readonly label: string;
    readonly was: number;
    readonly is: number;
  }[];
}
