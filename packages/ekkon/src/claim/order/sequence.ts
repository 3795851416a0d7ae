import { printsAs } from '../../record/prints-as.ts';
import { type HeldEvent, isEnd, memberOf } from '../event.ts';
import {
  type EventClass,
  type Expression,
  type Expressions,
  makeExpressions,
} from './expression.ts';
import type { StepTree } from './steps.ts';

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
  /** The class of an event by the leaves that take it and, for a beginning, the watched double it is on. */
  readonly classFor: (leaves: readonly number[], begins?: string) => EventClass;
}

export function compileSequence(tree: StepTree): Sequence {
  const expressions = makeExpressions();
  const leaves: HeldEvent[] = [];
  const numberOf = makeNumbering(leaves);
  const watched = new Set<string>();

  function build(step: StepTree): Expression {
    switch (step.kind) {
      case 'event':
        return expressions.leaf(numberOf(step.event));
      case 'loop':
        return expressions.loop(build(step.part), step.range.least, step.range.most);
      case 'unbroken': {
        const doubles = new Set(eventsIn(step).map((event) => memberOf(event).double));
        for (const double of doubles) watched.add(double);
        return expressions.unbroken(expressions.then(step.parts.map(build)), doubles);
      }
      default:
        return expressions[step.kind](step.parts.map(build));
    }
  }

  const start = build(tree);
  const classFor = makeClasses();
  const alone = leaves.map((leaf, at) => {
    const begins = isEnd(leaf) || !watched.has(leaf.member.double) ? undefined : leaf.member.double;
    return classFor([at], begins);
  });
  return {
    expressions,
    start,
    leaves,
    watched,
    alone,
    beginnings: beginningsIn(tree, leaves, numberOf),
    classFor,
  };
}

/** Makes classes of events, equal ones once. */
function makeClasses(): Sequence['classFor'] {
  const classes = new Map<string, EventClass>();
  return (taking, begins) => {
    const key = `${taking.toSorted().join(',')}|${begins ?? ''}`;
    const known = classes.get(key) ?? { leaves: new Set(taking), begins };
    classes.set(key, known);
    return known;
  };
}

/** Numbers leaves; patterns that surely mean the same have one number. */
function makeNumbering(leaves: HeldEvent[]): (event: HeldEvent) => number {
  const known = new Map<string, number>();
  const objects = new Map<unknown, number>();
  const nameOf = (item: unknown): string => {
    // Two symbols may look alike and be two, as objects may.
    const isText = !['object', 'function', 'symbol'].includes(typeof item);
    if (isText) return `${typeof item} ${String(item)}`;
    const name = objects.get(item) ?? objects.size;
    objects.set(item, name);
    return `object ${name}`;
  };
  return (event) => {
    const { member, of, claimed } = isEnd(event)
      ? { member: event, of: 'end', claimed: undefined }
      : event;
    const key = JSON.stringify([nameOf(member), of, claimed?.rest, claimed?.items.map(nameOf)]);
    const number = known.get(key) ?? leaves.push(event) - 1;
    known.set(key, number);
    return number;
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
        if (!isEnd(step.event)) return new Set([at]);
        const calls = step.event.calls[printsAs];
        for (const begin of before)
          if ((leaves[begin] as HeldEvent)[printsAs] === calls) found[at]?.add(begin);
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
      default: {
        const own = new Set<number>();
        for (const part of step.parts)
          for (const at of visit(part, new Set([...before, ...own]))) own.add(at);
        return own;
      }
    }
  }

  if (leaves.some(isEnd)) visit(tree, new Set());
  return found;
}

/** Every pattern in a step, in the order in which they are written. */
export function eventsIn(step: StepTree): readonly HeldEvent[] {
  switch (step.kind) {
    case 'event':
      return [step.event];
    case 'loop':
      return eventsIn(step.part);
    default:
      return step.parts.flatMap(eventsIn);
  }
}
