import { shortValue } from '../../notation/value.ts';
import type { LedgerRecord } from '../../record/ledger-record.ts';
import { isOwn, makeOwn, printsAs } from '../../record/prints-as.ts';
import { refuse } from '../../record/refuse.ts';
import { noteUsed, noteWritten } from '../../record/written.ts';
import type { Claim } from '../count.ts';
import { eventOf, type HeldEvent, isEnd, memberOf } from '../event.ts';
import { type Multiplicity, printRange, type Range, readRange } from '../multiplicity.ts';
import type { EventPattern } from '../pattern.ts';

/** A part of a sequence. */
export interface Step {
  /** As reports and claims files write it. */
  readonly step: string;
}

export type StepLike = EventPattern | Step;

/** What a step is made of. */
export type StepTree =
  | { readonly kind: 'event'; readonly event: HeldEvent }
  | {
      readonly kind: 'then' | 'together' | 'either' | 'unbroken';
      readonly parts: readonly StepTree[];
    }
  | { readonly kind: 'loop'; readonly part: StepTree; readonly range: Range };

/** A step behind its public type. */
export interface HeldStep extends Step {
  readonly tree: StepTree;
  readonly record: LedgerRecord;
  readonly [printsAs]: string;
}

/** A sequence as a claim behind its public type. */
export interface HeldOrder extends HeldStep, Claim {
  readonly claim: 'order';
}

type Below = (...args: never[]) => unknown;

/**
 * Claims that calls come in just this order; calls that fit none of its steps may lie between. Every
 * entry that fits a step of the outermost sequence, in branches not taken too, has to find its place.
 *
 * Steps are patterns of beginnings or ends, and the other words for steps; a sequence may stand inside
 * another.
 *
 * @throws TypeError where a step is none, where there is none, or where two ledgers are mixed
 * @example
 * check(inTurn(call(dome.open), fulfilled(call(mount.slewTo)), call(camera.expose), call(dome.close)));
 */
export function inTurn(...steps: StepLike[]): Claim & Step {
  const held = makeStep('in turn', ' › ', steps, inTurn, (parts) => ({ kind: 'then', parts }));
  const claim = makeOwn<HeldOrder>({
    ...held,
    claim: 'order',
    notation: held.step,
    [printsAs]: held.step,
  });
  return noteWritten(held.record, 'claim', claim, inTurn);
}

/**
 * Steps that all come, in any order, also interleaved.
 *
 * @example
 * inTurn(call(dome.open), inAnyOrder(call(mount.slewTo), call(camera.cool)), call(camera.expose))
 */
export function inAnyOrder(...steps: StepLike[]): Step {
  return makeOwn(
    makeStep('in any order', ' & ', steps, inAnyOrder, (parts) => ({ kind: 'together', parts })),
  );
}

/** One of these steps. */
export function either(...steps: StepLike[]): Step {
  return makeOwn(makeStep('either', ' | ', steps, either, (parts) => ({ kind: 'either', parts })));
}

/** A step that may come or not. */
export function optional(step: StepLike): Step {
  return makeOwn(
    makeStep('optional', '', [step], optional, ([part]) => ({
      kind: 'loop',
      part: part as StepTree,
      range: { least: 0, most: 1 },
    })),
  );
}

/**
 * A step that comes so many times, one after the other.
 *
 * @example
 * loop('1..3', inTurn(call(mount.slewTo), call(camera.expose)))
 */
export function loop(range: Multiplicity, step: StepLike): Step {
  const bounds = readRange(range, loop);
  return makeOwn(
    makeStep(`loop ${printRange(bounds)}`, '', [step], loop, ([part]) => ({
      kind: 'loop',
      part: part as StepTree,
      range: bounds,
    })),
  );
}

/**
 * Steps in turn, with no other beginning on the doubles concerned between them.
 *
 * @example
 * inTurn(call(dome.open), unbroken(call(mount.slewTo), call(mount.track)))
 */
export function unbroken(...steps: StepLike[]): Step {
  return makeOwn(
    makeStep('unbroken', ' › ', steps, unbroken, (parts) => ({ kind: 'unbroken', parts })),
  );
}

function makeStep(
  word: string,
  between: string,
  given: readonly StepLike[],
  below: Below,
  tree: (parts: readonly StepTree[]) => StepTree,
): HeldStep {
  if (given.length === 0)
    refuse(
      `${below.name}() has no step. Write ${below.name}(call(dome.open), call(dome.close)).`,
      below,
    );
  const parts = given.map((each) => partOf(each, below));
  const [first] = parts;
  const record = first?.record as LedgerRecord;
  const other = parts.find((part) => part.record !== record)?.record;
  if (other !== undefined) {
    refuse(
      `${below.name}() was given steps on two ledgers, "${record.name}" and "${other.name}". A claim speaks of one ledger.`,
      below,
    );
  }
  const step = `${word} ${parts.map(({ notation, nested }) => (nested ? `(${notation})` : notation)).join(between)}`;
  return { step, tree: tree(parts.map((part) => part.tree)), record, [printsAs]: step };
}

interface Part {
  readonly tree: StepTree;
  readonly record: LedgerRecord;
  readonly notation: string;
  readonly nested: boolean;
}

function partOf(given: unknown, below: Below): Part {
  const step = stepOf(given);
  if (step !== undefined) {
    noteUsed(step.record, step);
    return { tree: step.tree, record: step.record, notation: step.step, nested: true };
  }
  const event = eventOf(given);
  if (event === undefined) {
    refuse(
      `${below.name}() takes patterns and steps, and was given ${shortValue(given)}. Write ${below.name}(call(dome.open), …).`,
      below,
    );
  }
  if (isEnd(event) && event.of === 'unfinished') {
    refuse(
      `${below.name}(): ${event[printsAs]} is no moment that could have a place in an order. It is for counts.`,
      below,
    );
  }
  const { record } = memberOf(event);
  noteUsed(record, event);
  return {
    tree: { kind: 'event', event },
    record,
    notation: event[printsAs],
    nested: false,
  };
}

/** The step behind its public type; `undefined` where the value is none. */
function stepOf(value: unknown): HeldStep | undefined {
  return isOwn(value) && 'tree' in value ? (value as unknown as HeldStep) : undefined;
}
