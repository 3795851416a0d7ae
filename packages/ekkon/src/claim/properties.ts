import { printArguments } from '../notation/call.ts';
import { shortValue } from '../notation/value.ts';
import { copyList } from '../record/copy.ts';
import type { Member } from '../record/ledger-record.ts';
import { labelOf, newMember } from '../record/member.ts';
import { makeOwn, printsAs } from '../record/prints-as.ts';
import { descriptorOf } from '../record/prototype-chain.ts';
import { refuse } from '../record/refuse.ts';
import { tied } from '../record/tie.ts';
import { noteWritten } from '../record/written.ts';
import type { EventPattern, Fitting, HeldPattern } from './pattern.ts';

/**
 * The reads of a recorded property.
 *
 * @throws TypeError where the property's reads are not recorded
 * @example
 * ledger.observe(gauge, 'temperature');
 * check(times('1..*', reads(gauge, 'temperature')));
 */
export function reads<T extends object, K extends keyof T>(target: T, key: K): EventPattern {
  const member = observedMember(target, key);
  if (member === undefined) {
    refuse(
      `reads(${shortValue(target)}, ${shortValue(key)}): its reads are not recorded. Write ledger.observe(target, ${shortValue(key)}) first.`,
      reads,
    );
  }
  return makePattern(
    { of: 'read', member, claimed: undefined, [printsAs]: `reads(${member.label})` },
    reads,
  );
}

/**
 * The writes of a recorded property, or of any member of a stand-in; any of them, or those of a value.
 *
 * @throws TypeError where the property's writes are not recorded
 * @example
 * check(once(writes(camera, 'onframe', typeOf('function'))));
 */
export function writes<T extends object, K extends keyof T>(
  target: T,
  key: K,
  ...value: [value?: Fitting<T[K]>]
): EventPattern {
  const member = observedMember(target, key) ?? writtenMember(target, key);
  if (member === undefined) {
    refuse(
      `writes(${shortValue(target)}, ${shortValue(key)}): its writes are not recorded. Write ledger.observe(target, ${shortValue(key)}) first.`,
      writes,
    );
  }
  const claimed =
    value.length === 0 ? undefined : { items: copyList(value, member.record).values, rest: false };
  const said = claimed === undefined ? '' : `, ${printArguments(claimed.items)}`;
  return makePattern(
    { of: 'write', member, claimed, [printsAs]: `writes(${member.label}${said})` },
    writes,
  );
}

/** A pattern that was written by a call of `below`. */
export function makePattern(
  parts: HeldPattern,
  below: (...args: never[]) => unknown,
): EventPattern {
  const made = noteWritten(parts.member.record, 'pattern', makeOwn(parts), below);
  return made as unknown as EventPattern;
}

/** The member behind a property of a real object that a ledger records. */
function observedMember(target: object, key: PropertyKey): Member | undefined {
  const held = tied(descriptorOf(target, key)?.get);
  return held?.is === 'member' ? held : undefined;
}

/** A stand-in's member by its label: its writes are recorded whether or not it was used before. */
function writtenMember(target: object, key: PropertyKey): Member | undefined {
  const held = tied(target);
  if (held?.is !== 'double') return undefined;
  const { name, record, shape } = held;
  const label = labelOf(name, key);
  const known = record.members.find((member) => member.label === label);
  return known ?? newMember(record, { label, double: name, shape });
}
