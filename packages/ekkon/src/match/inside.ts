import type { Fit } from './matcher.ts';

/**
 * Two collections that are being compared, those around them, and what is known of pairs inside them. Whether
 * two of their items fit is found by taking the collections themselves for equal (as for the greatest
 * bisimulation: Park, 1981), so that it is known only for as long as these are compared.
 */
export interface Inside {
  readonly around: Inside | undefined;
  readonly known: Pairs;
  /** How many there are around them. */
  readonly depth: number;
}

/** What one comparison has done so far, with all its parts. */
export interface Work {
  /** How many pairs of objects it has looked at. */
  done: number;
  /** Pairs that differ, which they do though others were taken for equal. */
  differing?: Pairs;
}

export function insideOf(claimed: object, recorded: object, around: Inside | undefined): Inside {
  const known = new Pairs();
  known.set(claimed, recorded, 'fits');
  return { around, known, depth: around === undefined ? 0 : around.depth + 1 };
}

/** Whether a pair fits as far as is known inside some collections. */
export function knownInside(
  inside: Inside | undefined,
  claimed: unknown,
  recorded: unknown,
): Fit | undefined {
  for (let each = inside; each !== undefined; each = each.around) {
    const fit = each.known.get(claimed, recorded);
    if (fit !== undefined) return fit;
  }
  return undefined;
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
