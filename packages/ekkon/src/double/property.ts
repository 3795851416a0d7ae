import { type HeldPlan, planFor, plansOf, takeReply } from '../plan/plan.ts';
import { end, type HeldEntry } from '../record/journal.ts';
import type { Member, RealFunction } from '../record/member.ts';
import { recordCall } from '../record/record-call.ts';
import { tie } from '../record/tie.ts';
import type { Below } from '../value/below.ts';
import { framesBelow } from '../value/call-stack.ts';
import { printsAs } from '../value/prints-as.ts';
import { isAsking, isQuiet } from '../value/quiet.ts';
import { noteReal } from '../value/tie.ts';
import type { Way } from './way.ts';

/** The accessor that stands in a property's place, and how the property is to be put back. */
export function propertyInPlace(
  member: Member,
  holder: object,
  key: PropertyKey,
  found: PropertyDescriptor,
  own: PropertyDescriptor | undefined,
  way: Way,
): {
  readonly placed: PropertyDescriptor;
  readonly restored: () => PropertyDescriptor | undefined;
} {
  const { journal, target } = member;
  const plans = plansOf(member);
  const isData = 'value' in found;
  let current: unknown = found.value;

  function readNow(entry: HeldEntry, receiver: unknown): unknown {
    const plan = plans.length === 0 ? undefined : planFor(plans, entry);
    if (plan !== undefined) return plannedRead(member, plan, entry, receiver);
    const runs = way === 'observe' && !isData && found.get !== undefined;
    return runs ? Reflect.apply(found.get as RealFunction, receiver, []) : current;
  }
  function writeNow(_: HeldEntry, receiver: unknown, [value]: unknown[]): void {
    if (isData && isHeir(receiver, holder) && found.writable !== false) {
      // Writing through an object that inherits the property gives that object one of its own, as usual.
      Reflect.defineProperty(receiver, key, {
        value,
        writable: true,
        enumerable: true,
        configurable: true,
      });
    } else if (way === 'observe' && !isData && found.set !== undefined) {
      Reflect.apply(found.set as RealFunction, receiver, [value]);
    } else if (found.writable === false || (way === 'observe' && !isData)) {
      // Like the real one: in sloppy mode a failed write throws no error.
      if (!isSloppy(write))
        throw new TypeError(`${target.label} cannot be written: it is read-only`);
    } else {
      current = value;
    }
  }
  /** The value of a property is returned as it is: it is not a call, and nobody waits for a promise in it. */
  function readAtOnce(entry: HeldEntry, receiver: unknown): unknown {
    const value = readNow(entry, receiver);
    end(journal, entry, 'returned', value);
    return value;
  }
  function read(this: unknown): unknown {
    if (isQuiet() || (isAsking() && way === 'observe'))
      return found.get === undefined ? current : Reflect.apply(found.get, this, []);
    return recordCall(journal, target, 'read', this, [], read, readAtOnce, undefined);
  }
  function write(this: unknown, value: unknown): void {
    recordCall(journal, target, 'write', this, [value], write, writeNow, undefined);
  }
  tie(read, member);
  if (found.get !== undefined) noteReal(read, found.get);
  const placed = {
    get: read,
    set: write,
    enumerable: found.enumerable ?? true,
    configurable: true,
  };
  // A value written to an observed property was written to the real one.
  const restored = () =>
    way === 'observe' && isData && own !== undefined ? { ...own, value: current } : own;
  return { placed, restored };
}

/** Whether the caller of a function is code in sloppy mode. Engines that do not tell are taken for strict. */
function isSloppy(below: Below): boolean {
  // The engine hides the functions of strict code.
  return framesBelow(below, 1)[0]?.getFunction() !== undefined;
}

/** Whether something was written through an object that inherits from the one that holds the property. */
function isHeir(receiver: unknown, holder: object): receiver is object {
  return typeof receiver === 'object' && receiver !== null && receiver !== holder;
}

/** The planned value for the read of a property. */
function plannedRead(
  { target }: Member,
  plan: HeldPlan,
  entry: HeldEntry,
  receiver: unknown,
): unknown {
  const reply = takeReply(plan, entry);
  switch (reply.kind) {
    case 'gives':
      return reply.value;
    case 'throws':
      throw reply.reason;
    case 'computes':
      return Reflect.apply(reply.run, receiver, []);
    default:
      throw new TypeError(
        `${target.label} was planned to reply with ${reply[printsAs]} to a read, which can give, compute or throw`,
      );
  }
}
