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

/** What patterns that mean the same have in common: what their first argument holds, or the very object that it is. */
function keysOf(pattern: HeldEvent): readonly unknown[] {
  const glance = glanceOf(pattern);
  if (glance === undefined) return [firstKey(pattern)];
  const { keys, values, original } = glance;
  const held = `parts ${keys.join('\0')}\0\0${values}`;
  return original === undefined ? [held] : [held, original];
}

/** A pattern is held only against those of its target that claim the same first argument. */
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
    const same = lists.flatMap(
      (list) => list.find((at) => samePattern(patterns[at] as P, pattern)) ?? [],
    );
    const number = same.length > 0 ? Math.min(...same) : patterns.push(pattern) - 1;
    if (same.length === 0) for (const list of lists) list.push(number);
    numbers.set(pattern, number);
    return number;
  }

  return { patterns, numberOf };
}
