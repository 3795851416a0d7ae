import { inFull, shortValue } from '../../notation/value.ts';
import { asMoment, oneLedger } from '../../pattern/as-pattern.ts';
import { eventOf, journalOf } from '../../pattern/event.ts';
import {
  type Multiplicity,
  printRange,
  type Range,
  readRange,
} from '../../pattern/multiplicity.ts';
import type { EventPattern } from '../../pattern/types.ts';
import type { Claim } from '../../record/claim-type.ts';
import type { Journal } from '../../record/journal.ts';
import { noteUsed, noteWritten } from '../../record/slip.ts';
import type { Below } from '../../value/below.ts';
import { isOwn, makeOwn, ownPrinting, printsAs } from '../../value/prints-as.ts';
import { refuse } from '../../value/refuse.ts';
import { takesOnly } from '../../value/takes-only.ts';
import type { HeldClaimBase } from '../parts.ts';
import { compileSequence, type Sequence } from './sequence.ts';
import type { StepTree } from './step-tree.ts';

declare const stepOf: unique symbol;

/** A part of a sequence. */
export interface Step {
  readonly [stepOf]: true;
}

/** The parts of a sequence: patterns of events, and steps made of them. */
export type StepLike = EventPattern | Step;

/** A step behind its public type. */
export interface HeldStep {
  readonly tree: StepTree;
  readonly journal: Journal;
  readonly [printsAs]: string;
}

/** A sequence as a claim behind its public type. */
export interface HeldOrder extends HeldClaimBase<'order'> {
  readonly tree: StepTree;
  /** The sequence made ready to be run: worked out when it is first asked for. */
  readonly sequence: () => Sequence;
}

/**
 * Claims that calls come in exactly this order. Calls that match no step may come in between. Every call that matches
 * a step must find its place in the sequence, even if its branch is not taken.
 *
 * A step is a pattern of beginnings or ends, one of the other functions for steps, or another sequence.
 *
 * @throws TypeError if a step is invalid, if there is none, or if two ledgers are mixed
 * @example
 * check(inTurn(call(dome.open), fulfilled(call(mount.slewTo)), call(camera.expose), call(dome.close)));
 */
export function inTurn(...steps: StepLike[]): Claim & Step {
  const { tree, journal } = stepParts(steps, inTurn, (parts) => ({ kind: 'then', parts }));
  let compiled: Sequence | undefined;
  const sequence = () => {
    compiled ??= compileSequence(tree);
    return compiled;
  };
  const claim = makeClaim({ kind: 'order', journal, tree, sequence });
  return noteWritten(journal, 'claim', claim, inTurn) as unknown as Claim & Step;
}

/**
 * Steps that all come, in any order. They may be interleaved.
 *
 * @throws TypeError if a step is invalid, if there is none, or if two ledgers are mixed
 * @example
 * inTurn(call(dome.open), inAnyOrder(call(mount.slewTo), call(camera.cool)), call(camera.expose))
 */
export function inAnyOrder(...steps: StepLike[]): Step {
  return makeStep(steps, inAnyOrder, (parts) => ({ kind: 'together', parts }));
}

/**
 * Exactly one of these steps.
 *
 * @throws TypeError if a step is invalid, if there is none, or if two ledgers are mixed
 * @example
 * inTurn(call(dome.open), either(call(dome.close), call(alarm.sound)))
 */
export function either(...steps: StepLike[]): Step {
  return makeStep(steps, either, (parts) => ({ kind: 'either', parts }));
}

/**
 * A step that may come or not.
 *
 * @throws TypeError if it is given no step
 * @example
 * inTurn(call(dome.open), optional(call(camera.expose)), call(dome.close))
 */
export function optional(step: StepLike): Step {
  takesOnly(1, arguments, optional);
  return makeStep([step], optional, loopOf({ least: 0, most: 1 }));
}

/**
 * A step that is repeated this many times.
 *
 * @throws TypeError if the range is invalid, or if it is given no step
 * @example
 * loop('1..3', inTurn(call(mount.slewTo), call(camera.expose)))
 */
export function loop(range: Multiplicity, step: StepLike): Step {
  takesOnly(2, arguments, loop);
  return makeStep([step], loop, loopOf(readRange(range, loop)));
}

/**
 * Steps in this order, with no other call of their doubles in between.
 *
 * @throws TypeError if a step is invalid, if there is none, or if two ledgers are mixed
 * @example
 * inTurn(call(dome.open), unbroken(call(mount.slewTo), call(camera.expose)))
 */
export function unbroken(...steps: StepLike[]): Step {
  return makeStep(steps, unbroken, (parts) => ({ kind: 'unbroken', parts }));
}

function loopOf(range: Range): (parts: readonly StepTree[]) => StepTree {
  return ([part]) => ({ kind: 'loop', part: part as StepTree, range });
}

function makeStep(
  given: readonly StepLike[],
  below: Below,
  tree: (parts: readonly StepTree[]) => StepTree,
): Step {
  const parts = stepParts(given, below, tree);
  return makeOwn({ ...parts, [printsAs]: printStep(parts.tree) }) as unknown as Step;
}

function stepParts(
  given: readonly StepLike[],
  below: Below,
  tree: (parts: readonly StepTree[]) => StepTree,
): { readonly tree: StepTree; readonly journal: Journal } {
  if (given.length === 0)
    refuse(
      `${below.name}() has no step. Write ${below.name}(call(dome.open), call(dome.close)).`,
      below,
    );
  const parts = given.map((each) => partOf(each, below));
  const journal = oneLedger(
    parts.map((part) => part.journal),
    'steps',
    below,
  );
  return { tree: tree(parts.map((part) => part.tree)), journal };
}

function partOf(
  given: unknown,
  below: Below,
): { readonly tree: StepTree; readonly journal: Journal } {
  const step = heldStepOf(given);
  if (step !== undefined) {
    noteUsed(step.journal, step);
    return step;
  }
  if (eventOf(given) === undefined) {
    refuse(
      `${below.name}() takes patterns and steps, and was given ${shortValue(given)}. Write ${below.name}(call(dome.open), …).`,
      below,
    );
  }
  const event = asMoment(given, '', below);
  return { tree: { kind: 'event', event }, journal: journalOf(event) };
}

/** The step behind its public type; `undefined` if the value is none. */
function heldStepOf(value: unknown): HeldStep | undefined {
  return isOwn(value) && 'tree' in value ? (value as unknown as HeldStep) : undefined;
}

const makeClaim = ownPrinting<Omit<HeldOrder, keyof Claim | typeof printsAs>>(
  ({ tree }) => `in turn ${printStep(tree)}`,
  { notation: inFull },
);

/** A sequence, or a part of one, as claims files write it. */
export function printStep(step: StepTree): string {
  switch (step.kind) {
    case 'event':
      return step.event[printsAs];
    case 'then':
      return step.parts.map(printOne).join(' › ');
    case 'together':
      return `in any order (${step.parts.map(printOne).join(' & ')})`;
    case 'either':
      return `either (${step.parts.map(printOne).join(' | ')})`;
    case 'unbroken':
      return `unbroken (${step.parts.map(printOne).join(' › ')})`;
    case 'loop': {
      const { least, most } = step.range;
      if (least === 0 && most === 1) return `optional ${printWhole(step.part)}`;
      return `${printRange(step.range)} ${printWhole(step.part)}`;
    }
  }
}

/** A step among others: a sequence of its own is in brackets. */
function printOne(step: StepTree): string {
  return step.kind === 'then' ? `(${printStep(step)})` : printStep(step);
}

/** A step after a word: more than one event stands in brackets. */
function printWhole(step: StepTree): string {
  return step.kind === 'then' || step.kind === 'loop' ? `(${printStep(step)})` : printStep(step);
}
