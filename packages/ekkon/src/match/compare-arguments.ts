import { isPrimitive } from '../record/is-primitive.ts';
import { differencesKept, type Fit, noContext, Walk } from './compare.ts';
import type { Comparison } from './comparison.ts';
import type { Difference } from './difference.ts';
import { type Context, matchingOf } from './matcher.ts';

/** A claimed list of arguments: values and matchers by place, and whether any more may follow. */
export interface ClaimedArguments {
  readonly items: readonly unknown[];
  readonly rest: boolean;
}

/** Where the recorded arguments differ from the claimed ones; paths start with the argument's place. */
export function compareArguments(
  claimed: ClaimedArguments,
  recorded: readonly unknown[],
  context: Context = noContext,
): readonly Difference[] {
  const comparison = new Walk(context, differencesKept);
  walkArguments(comparison, claimed, recorded);
  return comparison.found;
}

/** Whether the recorded arguments are as claimed. */
export function argumentsFit(
  claimed: ClaimedArguments,
  recorded: readonly unknown[],
  context: Context = noContext,
): Fit {
  if (differAtAGlance(claimed.items, recorded)) return 'differs';
  const comparison = new Walk(context, 1);
  walkArguments(comparison, claimed, recorded);
  return comparison.fit;
}

/**
 * Whether a primitive stands where another one is claimed, or that a matcher does not let pass: most calls
 * are told apart by that.
 */
function differAtAGlance(claimed: readonly unknown[], recorded: readonly unknown[]): boolean {
  const length = Math.min(claimed.length, recorded.length);
  for (let at = 0; at < length; at++) {
    const one = claimed[at];
    const other = recorded[at];
    if (one === other || !isPrimitive(other)) continue;
    if (isPrimitive(one) ? !Object.is(one, other) : matchingOf(one)?.passes?.(other) === false)
      return true;
  }
  return false;
}

/** Arguments stand at fixed places: they are not aligned as the items of an array are. */
function walkArguments(
  comparison: Comparison,
  claimed: ClaimedArguments,
  recorded: readonly unknown[],
): void {
  const { items, rest } = claimed;
  const swapped = comparison.asksOnlyWhether
    ? undefined
    : swappedPlaces(comparison, items, recorded);
  for (let at = 0; at < items.length && !comparison.full; at++) {
    const from = swapped?.get(at);
    if (from !== undefined) comparison.moved(from, at, items[from], recorded[at]);
    else if (at < recorded.length) comparison.below(at, items[at], recorded[at]);
    else comparison.missing(at, items[at]);
  }
  if (rest) return;
  for (let at = items.length; at < recorded.length && !comparison.full; at++)
    comparison.surplus(at, recorded[at]);
}

/** Two places whose arguments would fit if they changed places: each recorded place with the claimed one. */
function swappedPlaces(
  comparison: Comparison,
  items: readonly unknown[],
  recorded: readonly unknown[],
): ReadonlyMap<number, number> {
  const fits = (one: number, other: number) => comparison.fits(items[one], recorded[other]);
  const wrong = items.map((_, at) => at).filter((at) => at < recorded.length && !fits(at, at));
  const swapped = new Map<number, number>();
  for (const one of wrong) {
    const other = wrong.find(
      (at) => at > one && !swapped.has(at) && fits(one, at) && fits(at, one),
    );
    if (other !== undefined && !swapped.has(one)) swapped.set(one, other).set(other, one);
  }
  return swapped;
}
