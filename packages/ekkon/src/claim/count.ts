import { shortValue } from '../notation/value.ts';
import { ownPrinting, printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { noteUsed, noteWritten } from '../record/written.ts';
import { eventFit, eventOf, type HeldEvent, memberOf, tickOf } from './event.ts';
import { type Multiplicity, printRange, type Range, readRange } from './multiplicity.ts';
import type { CallPattern, EventPattern, JudgedEntry } from './pattern.ts';
import { everything, type Window, within } from './window.ts';

/** A statement about the record that holds or does not. */
export interface Claim {
  /** As reports and claims files write it. */
  readonly notation: string;
}

/** A claim on how many entries fit one pattern. */
export interface CountClaim<A extends readonly unknown[], R> extends Claim {
  readonly pattern: CallPattern<A, R>;
}

/** A count claim behind its public type. */
export interface HeldCountClaim extends Claim {
  readonly claim: 'count';
  /** The word it was written with. */
  readonly word: 'once' | 'never' | 'times';
  readonly range: Range;
  readonly held: HeldEvent;
  readonly [printsAs]: string;
}

/**
 * Claims that exactly one entry fits.
 *
 * @throws TypeError where it is given no pattern
 * @example
 * check(once(call(dome.close)));
 * @see times for other counts
 */
export function once<A extends readonly unknown[], R>(p: CallPattern<A, R>): CountClaim<A, R>;
export function once(p: EventPattern): Claim;
export function once(p: EventPattern): Claim {
  return makeCount('once', { least: 1, most: 1 }, p, once);
}

/**
 * Claims that no entry fits.
 *
 * @throws TypeError where it is given no pattern
 * @example
 * check(never(call(alarm.sound)));
 */
export function never(p: EventPattern): Claim {
  return makeCount('never', { least: 0, most: 0 }, p, never);
}

/**
 * Claims how many entries fit.
 *
 * @param range a count, or bounds that are both included: `2`, `'2..4'`, `'1..*'`
 * @throws TypeError where the range is none, or where it is given no pattern
 * @example
 * check(times('1..*', call(weather.read)));
 */
export function times<A extends readonly unknown[], R>(
  range: Multiplicity,
  p: CallPattern<A, R>,
): CountClaim<A, R>;
export function times(range: Multiplicity, p: EventPattern): Claim;
export function times(range: Multiplicity, p: EventPattern): Claim {
  return makeCount('times', readRange(range, times), p, times);
}

function makeCount(
  word: HeldCountClaim['word'],
  range: Range,
  pattern: EventPattern,
  below: (...args: never[]) => unknown,
): CountClaim<readonly unknown[], unknown> {
  const held = eventOf(pattern);
  if (held === undefined) {
    refuse(
      `${word}() takes a pattern, and was given ${shortValue(pattern)}. Write ${word === 'times' ? "times('1..*', call(dome.open))" : `${word}(call(dome.open))`}.`,
      below,
    );
  }
  const { record } = memberOf(held);
  noteUsed(record, held);
  const claim = makeCountClaim({ claim: 'count', word, range, held, pattern });
  return noteWritten(record, 'claim', claim, below) as unknown as CountClaim<
    readonly unknown[],
    unknown
  >;
}

const makeCountClaim = ownPrinting<
  Pick<HeldCountClaim, 'claim' | 'word' | 'range' | 'held'> & { readonly pattern: EventPattern }
>(
  ({ word, range, held }) =>
    `${word}${word === 'times' ? ` ${printRange(range)}` : ''} ${held[printsAs]}`,
  [printsAs, 'notation'],
);

/** The entries of a record that a pattern means, in order, and those of which that cannot be told. */
export function countFor<E extends JudgedEntry>(
  pattern: HeldEvent,
  entries: readonly E[],
  window: Window = everything,
): { readonly fitting: readonly E[]; readonly undecided: readonly E[] } {
  const fitting: E[] = [];
  const undecided: E[] = [];
  for (const entry of entries) {
    const fit = eventFit(pattern, entry);
    if (fit === 'differs' || !within(window, tickOf(pattern, entry))) continue;
    if (fit === 'fits') fitting.push(entry);
    else undecided.push(entry);
  }
  return { fitting, undecided };
}

/** Whether a count lies within a range. */
export function inRange({ least, most }: Range, count: number): boolean {
  return count >= least && count <= most;
}
