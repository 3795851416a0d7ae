import { shortValue } from '../notation/value.ts';
import { planFor, plansOf, takeReply } from '../plan/plan.ts';
import type { HeldEntry, Journal } from '../record/journal.ts';
import {
  type Class,
  type Level,
  type Member,
  newMember,
  type RealFunction,
} from '../record/member.ts';
import { recordCall } from '../record/record-call.ts';
import { targetAt } from '../record/target.ts';
import { tied } from '../record/tie.ts';
import { holdDouble, levelsFor } from '../rule/judgements.ts';
import type { Below } from '../value/below.ts';
import { printsAs } from '../value/prints-as.ts';
import { refuse } from '../value/refuse.ts';
import { unusedName } from './doubles.ts';
import { isUnheard, makeKnown, unplannedCall } from './recorded.ts';
import { makeStandIn } from './stand-in.ts';

type AnyClass = new (...args: never[]) => unknown;

/** Whether a function is written as a class, or is one of the platform's that has a prototype with members. */
export function isClass(value: unknown): value is AnyClass & RealFunction {
  if (
    typeof value !== 'function' ||
    typeof value.prototype !== 'object' ||
    value.prototype === null
  )
    return false;
  if (isWrittenAsClass(value)) return true;
  return Object.getOwnPropertyNames(value.prototype).length > 1;
}

/** Whether a function can be called with `new` only. */
export function isWrittenAsClass(value: unknown): boolean {
  return typeof value === 'function' && Function.prototype.toString.call(value).startsWith('class');
}

/**
 * Makes a class: constructions are recorded, and its instances are stand-ins, of a class if one is given.
 */
export function makeConstructible(
  journal: Journal,
  label: string,
  shape: Class | undefined,
  whenUnplanned: Level,
): Class {
  const member = newMember(journal, targetAt(journal, label, []), {
    otherwise: 'instance',
    whenUnplanned,
    shape,
  });
  function constructed(this: unknown, ...args: unknown[]): unknown {
    if (new.target === undefined)
      throw new TypeError(`${label} is a class: it is constructed with new`);
    return construct(member, args, new.target, constructed);
  }
  if (shape !== undefined) {
    Object.setPrototypeOf(constructed, shape);
    Object.defineProperty(constructed, 'prototype', { value: shape.prototype, writable: false });
    Object.defineProperty(constructed, 'length', { value: shape.length, configurable: true });
  }
  makeKnown(constructed, member, shape?.name ?? label, `[constructible ${label}]`);
  return constructed as unknown as Class;
}

/** The input of a construction besides its arguments. */
interface Construction {
  readonly member: Member;
  readonly newTarget: RealFunction | AnyClass;
  readonly below: Below;
}

/**
 * Records a construction and returns the instance: the planned one, the real one, or a stand-in.
 *
 * @param newTarget the class after `new`: the class itself, or a subclass whose methods are kept
 */
export function construct(
  member: Member,
  args: unknown[],
  newTarget: RealFunction | AnyClass,
  below: Below,
): unknown {
  const { journal, target } = member;
  if (isUnheard(member)) return constructReal(member, args, newTarget, below);
  const construction: Construction = { member, newTarget, below };
  return recordCall(
    journal,
    target,
    'construct',
    undefined,
    args,
    below,
    respondToNew,
    construction,
  );
}

function respondToNew(
  entry: HeldEntry,
  _: unknown,
  args: unknown[],
  { member, newTarget, below }: Construction,
): unknown {
  const { target, otherwise, real } = member;
  const plans = plansOf(member);
  // Beyond the instances prepared by counted plans, there are stand-ins.
  const plan = plans.length === 0 ? undefined : planFor(plans, entry, 'other');
  const reply = plan === undefined ? undefined : takeReply(plan, entry);
  switch (reply?.kind) {
    case 'gives':
      return reply.value;
    case 'computes':
      return Reflect.apply(reply.run, undefined, args);
    case 'throws':
      throw reply.reason;
    case 'passesThrough':
    case undefined:
      break;
    default:
      throw new TypeError(
        `${target.label} was planned to reply with ${reply?.[printsAs]} to new, which can give, compute or throw`,
      );
  }
  if (real !== undefined && (otherwise === 'real' || reply !== undefined)) {
    const made = constructReal(member, args, newTarget, below);
    if (typeof made === 'object' && made !== null) member.made.push(made);
    return made;
  }
  if (member.whenUnplanned === 'fail') throw unplannedCall(member, entry);
  return makeInstance(member, newTarget === below ? undefined : newTarget.prototype);
}

function constructReal(
  { real }: Member,
  args: unknown[],
  newTarget: RealFunction | AnyClass,
  below: Below,
): unknown {
  const own = real as RealFunction;
  return Reflect.construct(own, args, newTarget === below ? own : newTarget);
}

/** A stand-in for an instance, which is held to the rules of its class. */
function makeInstance(member: Member, subclass: object | undefined): object {
  const { journal, target, shape, whenUnplanned } = member;
  const double = unusedName(journal, target.label, 'stand-in');
  holdDouble(journal, double, levelsFor(journal, target.double));
  const instance = makeStandIn(journal, double, {
    shape,
    prototype: subclass ?? shape?.prototype,
    whenUnplanned,
  });
  member.made.push(instance);
  return instance;
}

/**
 * The instances that a class has made, in the order of their construction: stand-ins for a constructible, the
 * real ones for a class that is observed.
 *
 * @throws TypeError if it is given no such class
 * @example
 * const Cover = ledger.constructible('Cover', CoverMotor);
 * new Cover('usb').turn(90);
 * const [cover] = instances(Cover);
 */
export function instances<C extends Class>(of: C): readonly InstanceType<C>[] {
  const member = tied(of);
  if (member?.is !== 'member') {
    refuse(
      `instances() takes a class that a ledger made, observes or took over, and was given ${shortValue(of)}.`,
      instances,
    );
  }
  return [...member.made] as InstanceType<C>[];
}
