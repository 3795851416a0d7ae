import { shortValue } from '../notation/value.ts';
import { type HeldPlan, planFor, takeReply } from '../plan/plan.ts';
import type { Class, LedgerRecord, Level, Member, RealFunction } from '../record/ledger-record.ts';
import { rulesOf } from '../record/member.ts';
import { printsAs } from '../record/prints-as.ts';
import { begin, end } from '../record/recording.ts';
import { refuse } from '../record/refuse.ts';
import { tied } from '../record/tie.ts';
import { judgeLateCall } from './late.ts';
import { makeMember, unusedName } from './make-member.ts';
import { finish, makeKnown, run } from './recorded.ts';
import { makeStandIn } from './stand-in.ts';
import { unplannedCall } from './unplanned.ts';

type AnyClass = new (...args: never[]) => unknown;

/** Whether a function is written as a class, or is one of the platform's that has a prototype with members. */
export function isClass(value: unknown): value is AnyClass & RealFunction {
  if (
    typeof value !== 'function' ||
    typeof value.prototype !== 'object' ||
    value.prototype === null
  )
    return false;
  if (/^class\b/.test(Function.prototype.toString.call(value))) return true;
  return Object.getOwnPropertyNames(value.prototype).length > 1;
}

/**
 * Makes a class: constructions are recorded, and its instances are stand-ins, of a class if one is given.
 */
export function makeConstructible(
  record: LedgerRecord,
  label: string,
  shape: Class | undefined,
  whenUnplanned: Level,
): Class {
  const member = makeMember(record, {
    label,
    double: label,
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
  makeKnown(constructed, member, shape?.name ?? label, `[class ${label}]`);
  return constructed as unknown as Class;
}

/**
 * Records a construction and gives the instance: the one planned, the real one, or a stand-in.
 *
 * @param newTarget what `new` was said of: the class itself, or a subclass whose methods are kept
 */
export function construct(
  member: Member<HeldPlan>,
  args: unknown[],
  newTarget: RealFunction | AnyClass,
  below: (...args: never[]) => unknown,
): unknown {
  const { record, label, plans, otherwise, shape, real } = member;
  const entry = begin(record, label, undefined, args, below, 'construct');
  if (record.closed) judgeLateCall(record, entry);
  // Beyond the instances prepared by counted plans, there are stand-ins.
  const plan = plans.length === 0 ? undefined : planFor(plans, entry, 'other');
  const reply = plan === undefined ? undefined : takeReply(plan, entry);
  if (reply?.kind === 'gives') return finish(record, entry, reply.value);
  if (reply?.kind === 'computes')
    return finish(
      record,
      entry,
      run(record, entry, () => Reflect.apply(reply.run, undefined, args)),
    );
  if (reply?.kind === 'throws') {
    end(record, entry, 'threw', reply.reason);
    throw reply.reason;
  }
  if (real !== undefined && (otherwise === 'real' || reply?.kind === 'passesThrough')) {
    const target = newTarget === below ? real : newTarget;
    return finish(
      record,
      entry,
      run(record, entry, () => Reflect.construct(real, args, target)),
    );
  }
  if (reply !== undefined) {
    const error = new TypeError(
      `${label} was planned to reply with ${reply[printsAs]} to new, which can give, compute or throw`,
    );
    end(record, entry, 'threw', error);
    throw error;
  }
  if (member.whenUnplanned === 'fail') throw unplannedCall(member, entry);
  const double = unusedName(record, label);
  const rules = rulesOf(record, label);
  if (rules !== record.rules) record.ruled.push({ double, rules });
  const instance = makeStandIn(record, double, {
    shape,
    prototype: shape === undefined && newTarget === below ? undefined : newTarget.prototype,
    whenUnplanned: member.whenUnplanned,
  });
  member.made.push(instance);
  end(record, entry, 'returned', instance);
  return instance;
}

/**
 * The stand-ins that a constructible class has made, in the order of their construction.
 *
 * @throws TypeError where it is given no such class
 * @example
 * const Cover = ledger.constructible('Cover', CoverMotor);
 * new NightRun(Cover);
 * const [cover] = instances(Cover);
 */
export function instances<C extends Class>(of: C): readonly InstanceType<C>[] {
  const member = tied(of);
  if (member?.is !== 'member') {
    refuse(
      `instances() takes a class that a ledger made or took over, and was given ${shortValue(of)}.`,
      instances,
    );
  }
  return [...member.made] as InstanceType<C>[];
}
