import type { SequenceState } from './sequence-state.ts';

/**
 * Expressions over steps, and their derivatives (Brzozowski, 1964): the rest that must be matched after an event was
 * taken. Equal expressions are one object, and each derivative is computed once, so the automaton is built as it
 * runs.
 */
export interface Expression {
  readonly id: number;
  readonly kind: 'fail' | 'empty' | 'leaf' | 'then' | 'together' | 'either' | 'loop' | 'unbroken';
  /** Whether nothing more has to come. */
  readonly nullable: boolean;
  /** For a leaf: the number of its pattern. */
  readonly leaf: number;
  readonly parts: readonly Expression[];
  readonly least: number;
  readonly most: number;
  /** For `unbroken`: the doubles on which nothing else may begin, and whether it is under way. */
  readonly doubles: ReadonlySet<string>;
  readonly started: boolean;
  /** The expressions after an event that was taken, or passed by: computed once. */
  readonly afterTaken: Map<EventClass, Expression>;
  readonly afterPassed: Map<EventClass, Expression>;
  /** The states of a sequence in which this is all that is left: made once. */
  readonly asStates: { made: readonly SequenceState[] | undefined };
}

/**
 * All that an expression needs to know of an event: which leaves take it, and where it begins, if it
 * does. Equal ones are one object.
 */
export interface EventClass {
  readonly leaves: ReadonlySet<number>;
  /** The double on which it is a beginning; `undefined` for an end. */
  readonly begins: string | undefined;
}

const noDoubles: ReadonlySet<string> = new Set();

/** Makes expressions, and remembers them. One for each sequence judged. */
export class Expressions {
  private readonly known = new Map<string, Expression>();
  readonly fail = this.make('fail', false);
  readonly empty = this.make('empty', true);

  private make(
    kind: Expression['kind'],
    nullable: boolean,
    more: Partial<Expression> = {},
  ): Expression {
    const {
      leaf = -1,
      parts = [],
      least = 0,
      most = 0,
      doubles = noDoubles,
      started = false,
    } = more;
    const key = `${kind} ${leaf} ${parts.map(({ id }) => id).join(',')} ${least} ${most} ${[...doubles].join(' ')} ${started}`;
    const found = this.known.get(key);
    if (found !== undefined) return found;
    const made: Expression = {
      id: this.known.size,
      kind,
      nullable,
      leaf,
      parts,
      least,
      most,
      doubles,
      started,
      afterTaken: new Map(),
      afterPassed: new Map(),
      asStates: { made: undefined },
    };
    this.known.set(key, made);
    return made;
  }

  leaf(number: number): Expression {
    return this.make('leaf', false, { leaf: number });
  }

  /** A list of a first part and the rest, so the rest is an expression that is already known. */
  inTurn(parts: readonly Expression[]): Expression {
    return parts.reduceRight<Expression>((rest, first) => this.followed(first, rest), this.empty);
  }

  private followed(first: Expression, rest: Expression): Expression {
    if (first === this.fail || rest === this.fail) return this.fail;
    if (first === this.empty) return rest;
    if (rest === this.empty) return first;
    if (first.kind !== 'then')
      return this.make('then', first.nullable && rest.nullable, { parts: [first, rest] });
    const [head, tail] = first.parts as readonly [Expression, Expression];
    return this.followed(head, this.followed(tail, rest));
  }

  together(parts: readonly Expression[]): Expression {
    const flat = parts.flatMap((part) =>
      part.kind === 'together' ? part.parts : part.kind === 'empty' ? [] : [part],
    );
    if (flat.some((part) => part === this.fail)) return this.fail;
    const [only] = flat;
    if (only === undefined) return this.empty;
    if (flat.length === 1) return only;
    const sorted = [...flat].sort((one, other) => one.id - other.id);
    return this.make(
      'together',
      flat.every(({ nullable }) => nullable),
      { parts: sorted },
    );
  }

  either(parts: readonly Expression[]): Expression {
    const flat = parts.flatMap((part) =>
      part.kind === 'either' ? part.parts : part === this.fail ? [] : [part],
    );
    const unique = [...new Set(flat)].sort((one, other) => one.id - other.id);
    const [only] = unique;
    if (only === undefined) return this.fail;
    return unique.length === 1
      ? only
      : this.make(
          'either',
          unique.some(({ nullable }) => nullable),
          { parts: unique },
        );
  }

  loop(part: Expression, least: number, most: number): Expression {
    if (most === 0 || part === this.empty) return this.empty;
    if (part === this.fail) return least === 0 ? this.empty : this.fail;
    if (least === 1 && most === 1) return part;
    return this.make('loop', least === 0 || part.nullable, { parts: [part], least, most });
  }

  unbroken(part: Expression, doubles: ReadonlySet<string>, started = false): Expression {
    if (part === this.fail || part === this.empty) return part;
    return this.make('unbroken', part.nullable, { parts: [part], doubles, started });
  }

  /** The rest after the event was taken; `fail` if it cannot be. */
  derive(of: Expression, event: EventClass): Expression {
    const known = of.afterTaken.get(event);
    if (known !== undefined) return known;
    const result = this.workOut(of, event);
    of.afterTaken.set(event, result);
    return result;
  }

  private workOut(of: Expression, event: EventClass): Expression {
    const { kind, parts } = of;
    switch (kind) {
      case 'fail':
      case 'empty':
        return this.fail;
      case 'leaf':
        return event.leaves.has(of.leaf) ? this.empty : this.fail;
      case 'then': {
        const [first, rest] = parts as readonly [Expression, Expression];
        const taken = this.followed(this.derive(first, event), rest);
        return first.nullable ? this.either([taken, this.derive(rest, event)]) : taken;
      }
      case 'together':
        return this.either(
          parts.map((part, at) =>
            this.together(
              parts.map((other, place) =>
                place === at ? this.derive(part, event) : this.pass(other, event),
              ),
            ),
          ),
        );
      case 'either':
        return this.either(parts.map((part) => this.derive(part, event)));
      case 'loop': {
        const [part] = parts as readonly [Expression];
        const rest = this.loop(part, Math.max(0, of.least - 1), of.most - 1);
        return this.inTurn([this.derive(part, event), rest]);
      }
      case 'unbroken':
        return this.unbroken(this.derive(parts[0] as Expression, event), of.doubles, true);
    }
  }

  /** The rest after the event passed by without being taken. */
  pass(of: Expression, event: EventClass): Expression {
    if (event.begins === undefined) return of;
    const known = of.afterPassed.get(event);
    if (known !== undefined) return known;
    const result = this.passWorkedOut(of, event);
    of.afterPassed.set(event, result);
    return result;
  }

  private passWorkedOut(of: Expression, event: EventClass): Expression {
    const { kind, parts } = of;
    switch (kind) {
      case 'then': {
        // Only the first part can be under way; if it may be over, the following parts have not begun.
        const [first, rest] = parts as readonly [Expression, Expression];
        return this.followed(this.pass(first, event), rest);
      }
      case 'together':
        return this.together(parts.map((part) => this.pass(part, event)));
      case 'either':
        return this.either(parts.map((part) => this.pass(part, event)));
      case 'unbroken':
        if (!of.started || !of.doubles.has(event.begins ?? '')) return of;
        return of.nullable ? this.empty : this.fail;
      default:
        return of;
    }
  }
}

/** The leaves that can be taken next. */
export function firstLeaves(of: Expression): ReadonlySet<number> {
  const leaves = new Set<number>();
  const visit = ({ kind, leaf, parts }: Expression): void => {
    if (kind === 'leaf') leaves.add(leaf);
    for (const part of parts) {
      visit(part);
      if (kind === 'then' && !part.nullable) break;
    }
  };
  visit(of);
  return leaves;
}

/** Whether nothing more could come to be missing, though some leaves can no longer be met. */
export function canFinish(
  { kind, leaf, parts, least }: Expression,
  isAlive: (leaf: number) => boolean,
): boolean {
  switch (kind) {
    case 'fail':
      return false;
    case 'empty':
      return true;
    case 'leaf':
      return isAlive(leaf);
    case 'either':
      return parts.some((part) => canFinish(part, isAlive));
    case 'loop':
      return least === 0 || parts.every((part) => canFinish(part, isAlive));
    case 'then':
    case 'together':
    case 'unbroken':
      return parts.every((part) => canFinish(part, isAlive));
  }
}
