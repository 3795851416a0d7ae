import type { ToldDifference, ToldLine } from '#core/report/told.ts';

/** The differences below a step; equal values are not shown. */
export interface DifferenceNode {
  /** The steps that lead here from the node above; several if there is nothing to tell between them. */
  readonly path: string;
  readonly says: readonly ToldLine[];
  readonly below: readonly DifferenceNode[];
}

/** Differences as a tree by their paths. */
export function differenceTree(differences: readonly ToldDifference[]): readonly DifferenceNode[] {
  return nodesOf(differences.map(({ path, says }) => ({ path, says })));
}

function nodesOf(differences: readonly ToldDifference[]): readonly DifferenceNode[] {
  const groups = new Map<string, ToldDifference[]>();
  for (const { path, says } of differences) {
    const [step = '', ...rest] = path;
    groups.set(step, [...(groups.get(step) ?? []), { path: rest, says }]);
  }
  return [...groups].map(([step, inside]) => {
    const says = inside.filter(({ path }) => path.length === 0).flatMap((each) => each.says);
    const below = nodesOf(inside.filter(({ path }) => path.length > 0));
    const [only] = below;
    if (says.length === 0 && below.length === 1 && only !== undefined)
      return { ...only, path: `${step}${only.path}` };
    return { path: step, says, below };
  });
}
