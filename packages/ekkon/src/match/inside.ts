import type { Fit } from '../value/comparison.ts';

/**
 * Two collections that are being compared, and those around them. Whether two of their items fit is found by taking
 * the collections themselves for equal, as for the greatest bisimulation (Park, 1981).
 */
export interface Inside {
  readonly claimed: object;
  readonly recorded: object;
  readonly around: Inside | undefined;
  /** How many there are around them. */
  readonly depth: number;
}

export function insideOf(claimed: object, recorded: object, around: Inside | undefined): Inside {
  return { claimed, recorded, around, depth: around === undefined ? 0 : around.depth + 1 };
}

export function isInside(inside: Inside | undefined, claimed: unknown, recorded: unknown): boolean {
  for (let each = inside; each !== undefined; each = each.around)
    if (each.claimed === claimed && each.recorded === recorded) return true;
  return false;
}

/** What one comparison has done so far, with all its parts. */
export interface Work {
  /** How many pairs of objects it has looked at. */
  done: number;
  /** How many pairs of collections. */
  collections: number;
  /** Pairs that differ, which they do even if others are taken for equal. */
  differing?: Pairs;
}

/** Whether pairs of objects fit. */
export class Pairs {
  private readonly fits = new Map<unknown, Map<unknown, Fit>>();

  get(claimed: unknown, recorded: unknown): Fit | undefined {
    return this.fits.get(claimed)?.get(recorded);
  }

  set(claimed: unknown, recorded: unknown, fit: Fit): void {
    const partners = this.fits.get(claimed);
    if (partners === undefined) this.fits.set(claimed, new Map([[recorded, fit]]));
    else partners.set(recorded, fit);
  }

  addAll({ fits }: Pairs): void {
    for (const [claimed, partners] of fits)
      for (const [recorded, fit] of partners) this.set(claimed, recorded, fit);
  }
}
