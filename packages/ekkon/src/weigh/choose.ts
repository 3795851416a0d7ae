import type { RecordAlteration } from '../alter/alterations.ts';
import { type HeldClaim, partsOf } from '../claim/kinds.ts';
import { isEnd, targetOf } from '../pattern/event.ts';
import type { Proposal } from './propose.ts';

/** A claim that could be added. */
export interface Candidate {
  readonly proposal: Proposal;
  /** The alterations that it would notice. */
  readonly notices: ReadonlySet<RecordAlteration>;
  /** The members of the claim: see `saidBy`. */
  readonly says: readonly string[];
}

/** The members of a claim, and whether it is about their calls or their ends. */
export function saidBy(claim: HeldClaim): readonly string[] {
  return partsOf(claim)
    .hears(claim)
    .events.flatMap((event) =>
      event === undefined ? [] : [`${targetOf(event).number} ${isEnd(event) ? 'end' : 'begin'}`],
    );
}

/**
 * The claims to add, in the order in which somebody would add them: first on members without a claim, and of those
 * the claim that notices most of the rest. Claims that add nothing are left out.
 *
 * A greedy cover; see V. Chvátal, A Greedy Heuristic for the Set-Covering Problem, 1979.
 *
 * @param toNotice the changes for which there should be a claim
 * @param said the members of the existing claims
 */
export function chooseInOrder(
  candidates: readonly Candidate[],
  toNotice: readonly RecordAlteration[],
  said: Iterable<string>,
): readonly Candidate[] {
  const spoken = new Set(said);
  const open = new Set(toNotice);
  const left = new Set(candidates);
  const chosen: Candidate[] = [];
  while (open.size > 0) {
    let best: { readonly candidate: Candidate; readonly rank: readonly number[] } | undefined;
    for (const candidate of left) {
      const adds = [...candidate.notices].filter((altered) => open.has(altered));
      if (adds.length === 0) left.delete(candidate);
      else {
        const rank = rankOf(candidate, adds, spoken);
        if (best === undefined || isBefore(rank, best.rank)) best = { candidate, rank };
      }
    }
    if (best === undefined) break;
    const { candidate } = best;
    chosen.push(candidate);
    left.delete(candidate);
    for (const altered of candidate.notices) open.delete(altered);
    for (const each of candidate.says) spoken.add(each);
  }
  return chosen;
}

/** The smaller, the earlier: something new, and be it more than an order; much; and short. */
function rankOf(
  { proposal, says }: Candidate,
  adds: readonly RecordAlteration[],
  spoken: ReadonlySet<string>,
): readonly number[] {
  const isOrder = adds.every(({ alteration }) => alteration === 'move');
  const isNew = !isOrder && !says.some((each) => spoken.has(each));
  return [isNew ? 0 : 1, -adds.length, proposal.text.length];
}

function isBefore(one: readonly number[], other: readonly number[]): boolean {
  const at = one.findIndex((value, place) => value !== other[place]);
  return at >= 0 && (one[at] ?? 0) < (other[at] ?? 0);
}
