import { callsOf, type HeldEvent, isAtEnd, targetOf } from '../../pattern/event.ts';
import { numberPatterns } from '../../pattern/pattern-numbers.ts';
import { sameCalls } from '../../pattern/same-pattern.ts';
import {
  type EventClass,
  type Expression,
  type Expressions,
  makeExpressions,
} from './expression.ts';
import { eventsIn, type StepTree } from './step-tree.ts';

/** A sequence made ready to be run over events. */
export interface Sequence {
  readonly expressions: Expressions;
  readonly start: Expression;
  /** The patterns of its leaves, by number. */
  readonly leaves: readonly HeldEvent[];
  /** The doubles on which something may be unbroken, so that each beginning on them counts. */
  readonly watched: ReadonlySet<string>;
  /** For each leaf, the class of an event that it alone takes. */
  readonly alone: readonly EventClass[];
  /**
   * For each end, the equal beginnings that may come before it in the sequence: it takes only ends of
   * calls whose beginnings one of them took. Empty: it takes any.
   */
  readonly beginnings: readonly ReadonlySet<number>[];
  /** Whether any end has to know which beginning was taken by what. */
  readonly knowsBeginnings: boolean;
  /** The class of an event by the leaves that take it and, for a beginning, the watched double it is on. */
  readonly classFor: (leaves: readonly number[], begins?: string) => EventClass;
}

export function compileSequence(tree: StepTree): Sequence {
  const expressions = makeExpressions();
  const { patterns: leaves, numberOf } = numberPatterns<HeldEvent>();
  const watched = new Set<string>();

  function build(step: StepTree): Expression {
    switch (step.kind) {
      case 'event':
        return expressions.leaf(numberOf(step.event));
      case 'loop':
        return expressions.loop(build(step.part), step.range.least, step.range.most);
      case 'unbroken': {
        const doubles = new Set(eventsIn(step).map((event) => targetOf(event).double));
        for (const double of doubles) watched.add(double);
        return expressions.unbroken(expressions.then(step.parts.map(build)), doubles);
      }
      case 'then':
      case 'together':
      case 'either':
        return expressions[step.kind](step.parts.map(build));
    }
  }

  const start = build(tree);
  const classFor = makeClasses();
  const alone = leaves.map((leaf, at) => {
    const { double } = targetOf(leaf);
    return classFor([at], isAtEnd(leaf) || !watched.has(double) ? undefined : double);
  });
  const beginnings = beginningsIn(tree, leaves, numberOf);
  return {
    expressions,
    start,
    leaves,
    watched,
    alone,
    beginnings,
    knowsBeginnings: beginnings.some(({ size }) => size > 0),
    classFor,
  };
}

/** Makes classes of events, equal ones once. */
function makeClasses(): Sequence['classFor'] {
  const classes = new Map<string, EventClass>();
  return (taking, begins) => {
    const key = `${taking.toSorted((one, other) => one - other).join(',')}|${begins ?? ''}`;
    const known = classes.get(key) ?? { leaves: new Set(taking), begins };
    classes.set(key, known);
    return known;
  };
}

/** For each end among the leaves, the equal beginnings that may come before it. */
function beginningsIn(
  tree: StepTree,
  leaves: readonly HeldEvent[],
  numberOf: (event: HeldEvent) => number,
): readonly ReadonlySet<number>[] {
  const found = leaves.map(() => new Set<number>());

  /** Visits a step, given the beginnings that may come before it; gives those in it. */
  function visit(step: StepTree, before: ReadonlySet<number>): ReadonlySet<number> {
    switch (step.kind) {
      case 'event': {
        const at = numberOf(step.event);
        if (!isAtEnd(step.event)) return new Set([at]);
        const { calls } = step.event;
        for (const begin of before)
          if (sameCalls(callsOf(leaves[begin] as HeldEvent), calls)) found[at]?.add(begin);
        return new Set();
      }
      case 'loop': {
        const own = visit(step.part, before);
        if (step.range.most > 1) visit(step.part, new Set([...before, ...own]));
        return own;
      }
      case 'either':
        return new Set(step.parts.flatMap((part) => [...visit(part, before)]));
      case 'together': {
        const own = step.parts.map((part) => visit(part, before));
        step.parts.forEach((part, at) => {
          visit(
            part,
            new Set([
              ...before,
              ...own.filter((_, other) => other !== at).flatMap((each) => [...each]),
            ]),
          );
        });
        return new Set(own.flatMap((each) => [...each]));
      }
      case 'then':
      case 'unbroken': {
        const own = new Set<number>();
        for (const part of step.parts)
          for (const at of visit(part, new Set([...before, ...own]))) own.add(at);
        return own;
      }
    }
  }

  if (leaves.some(isAtEnd)) visit(tree, new Set());
  return found;
}
