import type { HeldEvent } from '../../pattern/event.ts';
import { type Range, sameRange } from '../../pattern/multiplicity.ts';
import { samePattern } from '../../pattern/same-pattern.ts';

/** The form of a step. */
export type StepTree =
  | { readonly kind: 'event'; readonly event: HeldEvent }
  | {
      readonly kind: 'then' | 'together' | 'either' | 'unbroken';
      readonly parts: readonly StepTree[];
    }
  | { readonly kind: 'loop'; readonly part: StepTree; readonly range: Range };

/** Every pattern in a step, in the order in which they are written. */
export function eventsIn(step: StepTree): readonly HeldEvent[] {
  switch (step.kind) {
    case 'event':
      return [step.event];
    case 'loop':
      return eventsIn(step.part);
    case 'then':
    case 'together':
    case 'either':
    case 'unbroken':
      return step.parts.flatMap(eventsIn);
  }
}

/** How the branches begin of the innermost `either` in which a pattern begins one; none if there is none. */
export function branchesWith(step: StepTree, event: HeldEvent | undefined): readonly HeldEvent[] {
  if (event === undefined || step.kind === 'event') return [];
  const parts = step.kind === 'loop' ? [step.part] : step.parts;
  for (const part of parts) {
    const inner = branchesWith(part, event);
    if (inner.length > 0) return inner;
  }
  if (step.kind !== 'either') return [];
  const firsts = parts.flatMap((part) => eventsIn(part)[0] ?? []);
  return firsts.some((first) => samePattern(first, event)) ? firsts : [];
}

/** Whether two steps are made of the same steps in the same way. */
export function sameStep(one: StepTree, other: StepTree): boolean {
  switch (one.kind) {
    case 'event':
      return other.kind === 'event' && samePattern(one.event, other.event);
    case 'loop':
      return (
        other.kind === 'loop' && sameRange(one.range, other.range) && sameStep(one.part, other.part)
      );
    case 'then':
    case 'together':
    case 'either':
    case 'unbroken':
      return (
        other.kind === one.kind &&
        one.parts.length === other.parts.length &&
        one.parts.every((part, at) => sameStep(part, other.parts[at] as StepTree))
      );
  }
}
