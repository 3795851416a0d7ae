import type { HeldClaim } from '../claim/kinds.ts';
import { partsOf } from '../claim/kinds.ts';
import type { HeldEntry } from '../record/journal.ts';
import { isMark } from '../record/mark.ts';
import { Dispatch } from './dispatch.ts';
import { makeEvidence } from './evidence.ts';
import { Follower } from './follower.ts';

/**
 * Judges claims on events as they are read, and keeps none of them. It tells whether all claims hold, each for a
 * reason; why one does not is told by `judge`, from the record.
 */
export class StreamJudge {
  private readonly followers: readonly Follower[];
  private readonly dispatch = new Dispatch();
  private lastTick = 0;

  constructor(claims: readonly HeldClaim[]) {
    this.followers = claims.map((claim) => new Follower(claim));
    for (const follower of this.followers) this.dispatch.add(follower, follower.hearing);
  }

  tell(entry: HeldEntry, end: boolean, tick: number): void {
    this.lastTick = tick;
    if (end && !this.dispatch.hearsEnds) return;
    this.dispatch.tell(entry, end, tick);
  }

  /** Whether all claims hold on what was told, none of them for no reason. */
  get allHold(): boolean {
    return this.followers.every((follower) => {
      const { claim } = follower;
      const evidence = makeEvidence(
        claim.journal,
        () => new Set(),
        () => [],
      );
      return (
        claim.ofWhole !== true &&
        follower.judged(evidence) === 'holds' &&
        follower.absent() === undefined &&
        !partsOf(claim).isAlwaysTrue(claim) &&
        !beginsTooLate(claim, this.lastTick)
      );
    });
  }
}

/** Whether a stretch begins with a mark after which nothing came. */
function beginsTooLate(claim: HeldClaim, lastTick: number): boolean {
  if (claim.kind !== 'during') return false;
  const { from, inner } = claim;
  if (from !== undefined && isMark(from) && from.tick >= lastTick) return true;
  return beginsTooLate(inner as HeldClaim, lastTick);
}
