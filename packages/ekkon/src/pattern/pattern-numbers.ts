import { type HeldEvent, targetOf } from './event.ts';
import { glanceOf } from './parts-index.ts';
import { firstKey } from './pattern-index.ts';
import { samePattern } from './same-pattern.ts';

/** Numbers patterns, from 0: those that mean the same have one number. */
export interface PatternNumbers<P extends HeldEvent> {
  /** The first of each, by number. */
  readonly patterns: readonly P[];
  numberOf(pattern: P): number;
}

/** Common to patterns that mean the same: the content of their arguments, or the very objects. */
function keysOf(pattern: HeldEvent): readonly unknown[] {
  const glance = glanceOf(pattern, 0);
  const held =
    glance?.values === undefined ? firstKey(pattern) : `${glance.shape}\0\0${glance.values}`;
  return [held, ...(glance?.originals ?? [])];
}

/** A pattern is held only against those of its target that have something of `keysOf` in common with it. */
export function numberPatterns<P extends HeldEvent>(): PatternNumbers<P> {
  const patterns: P[] = [];
  const numbers = new Map<P, number>();
  const byTarget = new Map<number, Map<unknown, number[]>>();

  /** The lists in which a pattern that means the same would be. */
  function listsFor(pattern: P): readonly number[][] {
    const { number } = targetOf(pattern);
    const known = byTarget.get(number) ?? new Map<unknown, number[]>();
    byTarget.set(number, known);
    return keysOf(pattern).map((key) => {
      const list = known.get(key) ?? [];
      known.set(key, list);
      return list;
    });
  }

  function numberOf(pattern: P): number {
    const known = numbers.get(pattern);
    if (known !== undefined) return known;
    const lists = listsFor(pattern);
    const near = lists.flat();
    const same = near.find((at) => samePattern(patterns[at] as P, pattern));
    const number = same ?? patterns.push(pattern) - 1;
    if (same === undefined) for (const list of lists) list.push(number);
    numbers.set(pattern, number);
    return number;
  }

  return { patterns, numberOf };
}
