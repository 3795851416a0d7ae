import { wordOf } from '../notation/call.ts';
import { printTarget } from '../notation/label.ts';
import { shortValue } from '../notation/value.ts';
import { type Member, newMember, type Tied } from '../record/member.ts';
import { noteWritten } from '../record/slip.ts';
import { targetAt } from '../record/target.ts';
import { tied } from '../record/tie.ts';
import type { Below } from '../value/below.ts';
import { ownPrinting, type printsAs } from '../value/prints-as.ts';
import { descriptorOf } from '../value/prototype-chain.ts';
import { refuse } from '../value/refuse.ts';
import { takesOnly } from '../value/takes-only.ts';
import { claimedValues } from './call.ts';
import { withValue } from './ends.ts';
import type { HeldPattern } from './event.ts';
import type { CallPattern, EntryPattern, EventPattern, Fitting } from './types.ts';

/**
 * The reads of a recorded property: of a real object's that is observed, or of a stand-in's, which are recorded
 * from the first pattern on.
 *
 * @throws TypeError if the property's reads are not recorded
 * @example
 * const gauge = { temperature: 12 };
 * ledger.observe(gauge, 'temperature');
 * console.log(gauge.temperature);
 * check(times('1..*', reads(gauge, 'temperature')));
 */
export function reads<T extends object, K extends keyof T>(
  target: T,
  key: K,
): CallPattern<[], T[K]> {
  takesOnly(2, arguments, reads);
  const member = observedMember(target, key) ?? readMember(target, key);
  if (member === undefined) {
    const said = `reads(${shortValue(target)}, ${shortValue(key)})`;
    refuse(
      isStoodIn(tied(target))
        ? `${said}: it was read before, and that was not recorded, or it is a function. Write this before the code runs; of a function, write call(…).`
        : `${said}: its reads are not recorded. Write ledger.observe(target, ${shortValue(key)}) first.`,
      reads,
    );
  }
  return makePattern('read', member, [], reads) as CallPattern<[], T[K]>;
}

/**
 * The writes of a recorded property, or of any member of a stand-in; any of them, or those of a value.
 *
 * @throws TypeError if the property's writes are not recorded
 * @example
 * const sensor = ledger.standIn<{ onframe(): void }>('sensor');
 * sensor.onframe = () => undefined;
 * check(once(writes(sensor, 'onframe', typeOf('function'))));
 */
export function writes<T extends object, K extends keyof T>(
  target: T,
  key: K,
  ...value: [value?: Fitting<T[K]>]
): EntryPattern<[T[K]], undefined> {
  takesOnly(3, arguments, writes);
  const member = observedMember(target, key) ?? writtenMember(target, key);
  if (member === undefined) {
    refuse(
      `writes(${shortValue(target)}, ${shortValue(key)}): its writes are not recorded. Write ledger.observe(target, ${shortValue(key)}) first.`,
      writes,
    );
  }
  return makePattern('write', member, value, writes) as EntryPattern<[T[K]], undefined>;
}

/**
 * A pattern of a property, or of a stream event.
 *
 * @param value the expected value that is read, written or emitted; empty: any
 * @param below the public function that was called
 */
export function makePattern(
  of: keyof typeof wordOf,
  member: Member,
  value: readonly unknown[],
  below: Below,
): EventPattern {
  const items = value.length === 0 ? undefined : claimedValues(value, member, below);
  const claimed = items === undefined ? undefined : { items, rest: false };
  const pattern: HeldPattern = makeOne({ of, member, claimed, word: wordOf[of] });
  return noteWritten(member.journal, 'pattern', pattern, below) as unknown as EventPattern;
}

const makeOne = ownPrinting<Omit<HeldPattern, typeof printsAs> & { readonly word: string }>(
  ({ word, member, claimed }) =>
    `${word} ${printTarget(member.target)}${withValue(claimed?.items ?? [])}`,
);

function isStoodIn(held: Tied | undefined): boolean {
  return held?.is === 'double' || (held?.is === 'member' && held.recordReads !== undefined);
}

/** The member behind a property of a real object that a ledger records. */
function observedMember(target: object, key: PropertyKey): Member | undefined {
  if ((typeof target !== 'object' && typeof target !== 'function') || target === null)
    return undefined;
  const held = tied(descriptorOf(target, key)?.get);
  return held?.is === 'member' ? held : undefined;
}

/** A stand-in's property: its reads are recorded from now on. */
function readMember(target: object, key: PropertyKey): Member | undefined {
  const held = tied(target);
  return held?.is === 'double' || held?.is === 'member' ? held.recordReads?.(key) : undefined;
}

/** A stand-in's member, or one of its members: its writes are recorded whether or not it was used before. */
function writtenMember(target: object, key: PropertyKey): Member | undefined {
  const held = tied(target);
  if (held?.is === 'member' && held.real === undefined && held.target.keys.length > 0) {
    const { journal, target: outer } = held;
    return newMember(journal, targetAt(journal, outer.double, [...outer.keys, key]), {});
  }
  if (held?.is !== 'double') return undefined;
  const { name, journal, shape } = held;
  return newMember(journal, targetAt(journal, name, [key]), { shape });
}
