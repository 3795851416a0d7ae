import { claimOf, type HeldClaim } from '../claim/kinds.ts';
import { noteClaimUsed } from '../claim/make-claim.ts';
import { shortValue } from '../notation/value.ts';
import { eventOf, isEnd, targetOf } from '../pattern/event.ts';
import type { Below } from '../value/below.ts';
import { printsAs } from '../value/prints-as.ts';
import { refuse } from '../value/refuse.ts';

/**
 * The claim behind its public type; it is no longer one that was written and not judged.
 *
 * @throws TypeError if it is none, named after the public function it was given to
 */
export function asClaim(value: unknown, below: Below): HeldClaim {
  const said = `${below.name}()`;
  const claim = claimOf(value);
  if (claim !== undefined) {
    noteClaimUsed(claim);
    return claim;
  }
  const pattern = eventOf(value);
  if (pattern !== undefined) {
    const { label } = targetOf(pattern);
    const how = isEnd(pattern) ? `once(${pattern.word}(call(${label}…)))` : `once(call(${label}…))`;
    refuse(
      `${said} was given the bare pattern \`${pattern[printsAs]}\`, which claims nothing. Say how often: ${how}, never(…) or times('1..*', …).`,
      below,
    );
  }
  refuse(
    `${said} was given ${shortValue(value)}, which is not a claim. Write ${below.name}(once(call(dome.open))).`,
    below,
  );
}
