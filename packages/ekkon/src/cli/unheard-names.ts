import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import { printTarget } from '../notation/label.ts';
import { targetOf } from '../pattern/event.ts';
import type { Target } from '../record/target.ts';
import { nearNames } from '../value/near-names.ts';

/** A claim that holds beside a name under which nothing was recorded, and the recorded name that is near to it. */
export interface UnheardName {
  readonly claim: HeldClaim;
  readonly name: string;
  readonly near: string;
}

/**
 * Likely slips in the members of claims: a file lists doubles and not their members, so `never dome.opne` holds on
 * every record.
 *
 * @param recorded the targets that have entries
 */
export function unheardNames(
  claims: readonly HeldClaim[],
  recorded: Iterable<Target>,
): readonly UnheardName[] {
  const targets = [...recorded];
  const known = new Set(targets);
  return claims.flatMap((claim) => {
    const spoken = partsOf(claim)
      .hears(claim)
      .events.flatMap((event) => event ?? []);
    return [...new Set(spoken.map(targetOf))].flatMap((target) => {
      if (known.has(target)) return [];
      const beside = targets.filter(({ double }) => double === target.double);
      const [near] = nearNames(
        target.member,
        beside.map(({ member }) => member),
      );
      const meant = beside.find(({ member }) => member === near);
      if (meant === undefined) return [];
      return [{ claim, name: printTarget(target), near: printTarget(meant) }];
    });
  });
}
