import { shortValue } from '../notation/value.ts';
import type { Double, LedgerRecord } from '../record/ledger-record.ts';
import { makeOwn, printsAs } from '../record/prints-as.ts';
import { refuse } from '../record/refuse.ts';
import { tied } from '../record/tie.ts';
import { noteWritten } from '../record/written.ts';
import type { Claim } from './count.ts';

/** A claim that a double is still like what it stands for, behind its public type. */
export interface HeldConforms extends Claim {
  readonly claim: 'conforms';
  readonly record: LedgerRecord;
  readonly double: Double;
  /** The real object, or the prototype of the real class. */
  readonly real: object;
  readonly realName: string;
  readonly [printsAs]: string;
}

/**
 * Claims that a double has not drifted from what it stands for: every member of it that was called or
 * planned exists on the real one, takes as many arguments as it was called with, and is of the same
 * nature: a method, a property, asynchronous.
 *
 * @param double a stand-in
 * @param real the real object, or its class
 * @throws TypeError where the first is no stand-in, or the second no object
 * @example
 * check(conforms(mount, RobotMount));
 */
export function conforms(double: object, real: object): Claim {
  const held = tied(double);
  if (held?.is !== 'double') {
    refuse(
      `conforms() takes a stand-in first, and was given ${shortValue(double)}. Write conforms(dome, RobotDome).`,
      conforms,
    );
  }
  if ((typeof real !== 'object' && typeof real !== 'function') || real === null) {
    refuse(
      `conforms(${held.name}, …) takes the real object or its class, and was given ${shortValue(real)}.`,
      conforms,
    );
  }
  const isClass = typeof real === 'function' && typeof real.prototype === 'object';
  const realName = isClass ? real.name : shortValue(real, 40);
  const notation = `conforms ${held.name} ${realName}`;
  const parts: HeldConforms = {
    claim: 'conforms',
    record: held.record,
    double: held,
    real: isClass ? real.prototype : real,
    realName,
    notation,
    [printsAs]: notation,
  };
  return noteWritten(held.record, 'claim', makeOwn(parts), conforms);
}
