import type { Fit } from '../value/comparison.ts';

/**
 * Two collections that are being compared, and those around them. Whether two of their items fit is found by taking
 * the collections themselves for equal, as for the greatest bisimulation (Park, 1981).
 */
export interface Inside {
  readonly expected: object;
  readonly received: object;
  readonly around: Inside | undefined;
  /** How many there are around them. */
  readonly depth: number;
}

export function insideOf(expected: object, received: object, around: Inside | undefined): Inside {
  return { expected, received, around, depth: around === undefined ? 0 : around.depth + 1 };
}

export function isInside(
  inside: Inside | undefined,
  expected: unknown,
  received: unknown,
): boolean {
  for (let each = inside; each !== undefined; each = each.around)
    if (each.expected === expected && each.received === received) return true;
  return false;
}

/** The progress of one comparison, with all its parts. */
export interface Work {
  /** How many pairs of objects it has looked at. */
  done: number;
  /** How many pairs of collections. */
  collections: number;
  /** Pairs that differ or are undecided, which they are even if others are taken for equal. */
  decided?: Pairs;
  /** How many were added to those. */
  found: number;
  /** Pairs that fit if all that is being compared does. */
  assumed?: Pairs | undefined;
}

/** Whether pairs of objects fit. */
export class Pairs {
  private readonly fits = new Map<unknown, Map<unknown, Fit>>();

  constructor(known?: Pairs) {
    if (known !== undefined) this.addAll(known);
  }

  get(expected: unknown, received: unknown): Fit | undefined {
    return this.fits.get(expected)?.get(received);
  }

  set(expected: unknown, received: unknown, fit: Fit): void {
    const partners = this.fits.get(expected);
    if (partners === undefined) this.fits.set(expected, new Map([[received, fit]]));
    else partners.set(received, fit);
  }

  addAll({ fits }: Pairs): void {
    for (const [expected, partners] of fits)
      for (const [received, fit] of partners) this.set(expected, received, fit);
  }
}
