import { type HeldEvent, isAtEnd, targetOf } from '../../pattern/event.ts';
import { numberPatterns } from '../../pattern/pattern-numbers.ts';
import { type EventClass, type Expression, Expressions } from './expression.ts';
import { eventsIn, type StepTree } from './step-tree.ts';

/** A sequence made ready to be run over events. */
export interface Sequence {
  readonly expressions: Expressions;
  readonly start: Expression;
  /** The patterns of its leaves, by number. */
  readonly leaves: readonly HeldEvent[];
  /** The doubles with unbroken steps, because each beginning on them counts. */
  readonly watched: ReadonlySet<string>;
  /** For each leaf, the class of an event that it alone takes. */
  readonly alone: readonly EventClass[];
  /**
   * For each end among the leaves, the leaf of the equal beginning that may come before it: it takes only
   * ends of calls whose beginnings that took. `undefined`: it takes any. The steps of one pattern are two
   * leaves if only some of them have a beginning before them.
   */
  readonly beginnings: readonly (number | undefined)[];
  /** The leaves of beginnings that an end belongs to: which calls they took has to be known. */
  readonly remembered: ReadonlySet<number>;
  /** The class of an event by the leaves that take it and, for a beginning, the watched double it is on. */
  readonly classFor: (leaves: readonly number[], begins?: string) => EventClass;
}

/** Whether the beginnings of a pattern, by its number, may come before a step. */
type Before = (pattern: number) => boolean;

export function compileSequence(tree: StepTree): Sequence {
  const expressions = new Expressions();
  const numbered = numberLeaves();
  const watched = new Set<string>();

  function build(step: StepTree, before: Before): Expression {
    switch (step.kind) {
      case 'event':
        return expressions.leaf(numbered.leafOf(step.event, before));
      case 'loop': {
        const { least, most } = step.range;
        const first = build(step.part, before);
        const own = [...numbered.beginningsIn(step.part)].filter((at) => !before(at));
        if (most <= 1 || own.length === 0) return expressions.loop(first, least, most);
        // Events of one turn come before all events of the next.
        const again = build(step.part, (at) => before(at) || own.includes(at));
        if (again === first) return expressions.loop(first, least, most);
        const rest = expressions.loop(again, Math.max(0, least - 1), most - 1);
        return expressions.loop(expressions.inTurn([first, rest]), Math.min(least, 1), 1);
      }
      case 'unbroken': {
        const doubles = new Set(eventsIn(step).map((event) => targetOf(event).double));
        for (const double of doubles) watched.add(double);
        return expressions.unbroken(inTurn(step.parts, before), doubles);
      }
      case 'then':
        return inTurn(step.parts, before);
      case 'together':
        return interleaved(step.parts, before);
      case 'either':
        return expressions.either(step.parts.map((part) => build(part, before)));
    }
  }

  /** Before each part come those before it. */
  function inTurn(parts: readonly StepTree[], before: Before): Expression {
    const earlier = new Set<number>();
    const built = parts.map((part) => {
      const one = build(part, (at) => before(at) || earlier.has(at));
      for (const at of numbered.beginningsIn(part)) earlier.add(at);
      return one;
    });
    return expressions.inTurn(built);
  }

  /** Before each part may come all others. */
  function interleaved(parts: readonly StepTree[], before: Before): Expression {
    const owns = parts.map(numbered.beginningsIn);
    const counts = new Map<number, number>();
    for (const at of owns.flatMap((own) => [...own])) counts.set(at, (counts.get(at) ?? 0) + 1);
    const isInAnother = (own: ReadonlySet<number>, at: number) =>
      (counts.get(at) ?? 0) > (own.has(at) ? 1 : 0);
    return expressions.together(
      owns.map((own, place) =>
        build(parts[place] as StepTree, (at) => before(at) || isInAnother(own, at)),
      ),
    );
  }

  const start = build(tree, () => false);
  const { leaves, beginnings } = numbered.all();
  const classFor = makeClasses();
  const alone = leaves.map((leaf, at) => {
    const { double } = targetOf(leaf);
    return classFor([at], isAtEnd(leaf) || !watched.has(double) ? undefined : double);
  });
  return {
    expressions,
    start,
    leaves,
    watched,
    alone,
    beginnings,
    remembered: new Set(beginnings.flatMap((begin) => begin ?? [])),
    classFor,
  };
}

/** Numbers the leaves of a sequence, from 0: by their pattern, and for an end by whether it has a beginning. */
function numberLeaves() {
  const { numberOf } = numberPatterns<HeldEvent>();
  const leaves: HeldEvent[] = [];
  const numbers = new Map<string, number>();
  /** For each leaf, the pattern of the beginnings that it belongs to, if it does. */
  const belongsTo: (number | undefined)[] = [];
  const keyOf = (pattern: number, begin?: number) => `${pattern} ${begin ?? ''}`;

  return {
    leafOf(event: HeldEvent, before: Before): number {
      const begin = isAtEnd(event) ? numberOf(event.calls) : undefined;
      const own = begin !== undefined && before(begin) ? begin : undefined;
      const key = keyOf(numberOf(event), own);
      const leaf = numbers.get(key) ?? leaves.push(event) - 1;
      numbers.set(key, leaf);
      belongsTo[leaf] = own;
      return leaf;
    },
    /** The patterns of the beginnings that a step may take. */
    beginningsIn(step: StepTree): ReadonlySet<number> {
      return new Set(takenIn(step).flatMap((event) => (isAtEnd(event) ? [] : numberOf(event))));
    },
    /** The leaves, and for each the leaf of the beginnings that it belongs to. */
    all() {
      const leafOfBegin = (begin: number | undefined) =>
        begin === undefined ? undefined : numbers.get(keyOf(begin));
      return { leaves, beginnings: leaves.map((_, at) => leafOfBegin(belongsTo[at])) };
    },
  };
}

/** The patterns that a step may take: all in it, but for those of a loop of no turns. */
function takenIn(step: StepTree): readonly HeldEvent[] {
  if (step.kind === 'event') return [step.event];
  if (step.kind === 'loop') return step.range.most === 0 ? [] : takenIn(step.part);
  return step.parts.flatMap(takenIn);
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
