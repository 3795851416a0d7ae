import type { HeldEntry } from '../record/journal.ts';
import { type HeldEvent, isAtEnd } from './event.ts';
import { eventFit } from './fit.ts';
import { makePatternIndex } from './pattern-index.ts';

/** Which of some patterns an event matches, by number. */
export interface Matched {
  readonly fits: readonly number[];
  /** Those of which it is not known. */
  readonly undecided: readonly number[];
}

/** Tells which patterns an entry's beginning, or its end, matches. */
export type EventMatcher = (entry: HeldEntry, end: boolean) => Matched;

/** Makes a matcher for numbered patterns; a number may be left out. */
export function makeEventMatcher(patterns: readonly (HeldEvent | undefined)[]): EventMatcher {
  const near = makePatternIndex(patterns);
  return (entry, end) => {
    let fits = none;
    let undecided = none;
    for (const at of near(entry, end)) {
      const pattern = patterns[at];
      if (pattern === undefined || isAtEnd(pattern) !== end) continue;
      const fit = eventFit(pattern, entry);
      if (fit === 'fits') fits = added(fits, at);
      else if (fit === 'undecided') undecided = added(undecided, at);
    }
    return fits === none && undecided === none ? nothing : { fits, undecided };
  };
}

const none: readonly number[] = [];
const nothing: Matched = { fits: none, undecided: none };

/** By far the most events match one pattern, and by far the most claims have one. */
const onlyFirst: readonly number[] = [0];

function added(numbers: readonly number[], at: number): readonly number[] {
  if (numbers.length > 0) return [...numbers, at];
  return at === 0 ? onlyFirst : [at];
}
