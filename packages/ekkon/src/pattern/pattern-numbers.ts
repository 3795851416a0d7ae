import { type HeldEvent, targetOf } from './event.ts';
import { firstKey } from './pattern-index.ts';
import { samePattern } from './same-pattern.ts';

/** Numbers patterns, from 0: those that mean the same have one number. */
export interface PatternNumbers<P extends HeldEvent> {
  /** The first of each, by number. */
  readonly patterns: readonly P[];
  numberOf(pattern: P): number;
}

/** A pattern is held only against those of its target that claim the same first argument. */
export function numberPatterns<P extends HeldEvent>(): PatternNumbers<P> {
  const patterns: P[] = [];
  const numbers = new Map<P, number>();
  const byTarget = new Map<number, Map<unknown, number[]>>();

  function listFor(pattern: P): number[] {
    const { number } = targetOf(pattern);
    const byFirst = byTarget.get(number) ?? new Map<unknown, number[]>();
    byTarget.set(number, byFirst);
    const key = firstKey(pattern);
    const list = byFirst.get(key) ?? [];
    byFirst.set(key, list);
    return list;
  }

  function numberOf(pattern: P): number {
    const known = numbers.get(pattern);
    if (known !== undefined) return known;
    const list = listFor(pattern);
    let number = list.find((at) => samePattern(patterns[at] as P, pattern));
    if (number === undefined) {
      number = patterns.push(pattern) - 1;
      list.push(number);
    }
    numbers.set(pattern, number);
    return number;
  }

  return { patterns, numberOf };
}
