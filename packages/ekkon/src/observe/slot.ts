import type { Below } from '../value/below.ts';
import { ofTime } from '../value/intrinsics.ts';
import { isNative } from '../value/is-native.ts';
import { refuse } from '../value/refuse.ts';

/** A property in whose place something was put. */
export interface Slot {
  readonly target: object;
  readonly key: PropertyKey;
  readonly placed: PropertyDescriptor;
  /** The object's own property before that, if it had one. */
  readonly own: PropertyDescriptor | undefined;
}

/** Refuses to put something in the place of a property that cannot be changed. */
export function refuseLocked(
  target: object,
  own: PropertyDescriptor | undefined,
  said: string,
  below: Below,
): void {
  const locked =
    own?.configurable === false && !(own.writable === true && typeof own.value === 'function');
  if (locked)
    refuse(
      `${said}: the member is not configurable, so it cannot be replaced. Hand a stand-in to the code instead.`,
      below,
    );
  if (own === undefined && !Object.isExtensible(target)) {
    refuse(
      `${said}: the object is not extensible and inherits the member, so it cannot be replaced.`,
      below,
    );
  }
}

/**
 * Restores the original value. If other code has done so, there is nothing to do: a runner that fakes timers puts the
 * platform's own back, although it may have put its own there first.
 *
 * @param restored the value to restore; `undefined` if the object had no such property
 * @returns whether it is as it was
 */
export function putBackSlot(
  { target, key, placed, own }: Slot,
  restored: () => PropertyDescriptor | undefined,
): boolean {
  const now = Object.getOwnPropertyDescriptor(target, key);
  if (now === undefined || now.value !== placed.value || now.get !== placed.get)
    return isAsBefore(now, own);
  const before = restored();
  if (own === undefined || before === undefined) return Reflect.deleteProperty(target, key);
  return Reflect.defineProperty(target, key, before);
}

/** Whether a property has its original value, or the platform's own. */
function isAsBefore(
  now: PropertyDescriptor | undefined,
  own: PropertyDescriptor | undefined,
): boolean {
  if (now === undefined) return own === undefined;
  if (ofTime.has(now.value) || isNative(now.value) || isNative(now.get)) return true;
  return own !== undefined && now.value === own.value && now.get === own.get;
}
