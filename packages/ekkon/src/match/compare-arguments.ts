import { claimedOriginal } from '../value/claimed-copy.ts';
import type { Comparison, Fit } from '../value/comparison.ts';
import type { Difference } from '../value/difference.ts';
import { isGap } from '../value/gap.ts';
import { isPrimitive } from '../value/is-primitive.ts';
import { anything } from './anything.ts';
import { arePlain, differencesKept, fitOf, noContext, Walk } from './compare.ts';
import { type Context, matchingOf } from './matcher.ts';

/** An expected list of arguments: values and matchers by place, and whether any more may follow. */
export interface ClaimedArguments {
  readonly items: readonly unknown[];
  readonly rest: boolean;
}

/** Where the received arguments differ from the expected ones; paths start with the argument's place. */
export function compareArguments(
  expected: ClaimedArguments,
  received: readonly unknown[],
  context: Context = noContext,
): readonly Difference[] {
  const comparison = new Walk(context, differencesKept);
  walkArguments(comparison, expected, received);
  return comparison.found;
}

/**
 * Whether the received arguments are as expected: like `compareArguments`, but it ends at the first certain
 * difference. Primitives and quick matchers come first, because they tell most calls apart.
 *
 * @param live the arguments themselves, if they are at hand
 * @param contextOf makes the context out of what comes after it; it is hardly ever asked for
 */
export function argumentsFit<E, J>(
  { items, rest }: ClaimedArguments,
  received: readonly unknown[],
  contextOf: (entry: E, journal: J) => Context,
  entry: E,
  journal: J,
  live: readonly unknown[],
): Fit {
  if (received.length > items.length && !rest) return 'differs';
  let fit: Fit = 'fits';
  let asked = -1;
  for (let at = 0; at < items.length; at++) {
    const one = items[at];
    if (at >= received.length) {
      if (matchingOf(one)?.acceptsAbsence !== true) return 'differs';
      continue;
    }
    const here = quickFit(one, received[at]);
    if (here === 'differs') return 'differs';
    if (here === undefined) asked = asked < 0 ? at : asked;
    else if (here === 'undecided') fit = here;
  }
  if (asked < 0) return fit;
  for (let at = asked; at < items.length && at < received.length; at++)
    if (differsAtOnce(items[at], received[at]) && claimedOriginal(items[at] as object) !== live[at])
      return 'differs';
  const context = contextOf(entry, journal);
  for (let at = asked; at < items.length && at < received.length; at++) {
    if (at > asked && quickFit(items[at], received[at]) !== undefined) continue;
    const here = fitOf(items[at], received[at], context);
    if (here === 'differs') return 'differs';
    if (here === 'undecided') fit = here;
  }
  return fit;
}

/** Whether two values agree, if that can be told at once. */
function quickFit(one: unknown, other: unknown): Fit | undefined {
  if (one === other) return 'fits';
  if (isPrimitive(one)) {
    if (!isPrimitive(other)) return undefined;
    return Object.is(one, other) ? 'fits' : 'differs';
  }
  const fit = matchingOf(one)?.fit;
  return fit === undefined || isGap(other) ? undefined : fit(other);
}

/**
 * Whether a primitive in a property of two plain objects sets them apart. They are equal all the same if the one was
 * expected that was passed, and changed in between.
 */
function differsAtOnce(one: unknown, other: unknown): boolean {
  if (typeof one !== 'object' || one === null || !arePlain(one, other)) return false;
  for (const key of Object.keys(one)) {
    const [expected, received] = [Reflect.get(one, key), Reflect.get(other, key)];
    if (expected === received || !isPrimitive(expected) || !isPrimitive(received)) continue;
    if (!Object.is(expected, received) && Object.hasOwn(other, key)) return true;
  }
  return false;
}

/** Arguments have fixed places, so they are not aligned like the items of an array. */
function walkArguments(
  comparison: Comparison,
  expected: ClaimedArguments,
  received: readonly unknown[],
): void {
  const { items, rest } = expected;
  const swapped = comparison.asksOnlyWhether
    ? undefined
    : swappedPlaces(comparison, items, received);
  for (let at = 0; at < items.length && !comparison.full; at++) {
    const from = swapped?.get(at);
    if (from !== undefined) comparison.moved(from, at, items[from], received[at]);
    else if (at < received.length) comparison.below(at, items[at], received[at]);
    else comparison.missing(at, items[at]);
  }
  if (rest) return;
  for (let at = items.length; at < received.length && !comparison.full; at++)
    comparison.surplus(at, received[at]);
}

/**
 * Two places whose arguments would fit if they changed places: each received place with the expected one. Where anything
 * was expected, only a text tells that it belongs elsewhere.
 */
function swappedPlaces(
  comparison: Comparison,
  items: readonly unknown[],
  received: readonly unknown[],
): ReadonlyMap<number, number> {
  const fits = (one: number, other: number) =>
    comparison.fitOf(items[one], received[other]) === 'fits';
  const wrong = items.map((_, at) => at).filter((at) => at < received.length && !fits(at, at));
  const swapped = new Map<number, number>();
  for (const one of wrong) {
    if (swapped.has(one)) continue;
    const other =
      wrong.find((at) => !swapped.has(at) && fits(one, at) && fits(at, one)) ??
      (isText(items[one]) ? items.findIndex((item, at) => item === anything && fits(one, at)) : -1);
    if (other >= 0) swapped.set(one, other).set(other, one);
  }
  return swapped;
}

function isText(value: unknown): boolean {
  return typeof value === 'string' && value !== '';
}
