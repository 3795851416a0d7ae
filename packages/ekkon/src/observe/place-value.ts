import { doublesOn } from '../double/doubles.ts';
import { shortValue } from '../notation/value.ts';
import type { Journal } from '../record/journal.ts';
import { refuseClosed } from '../record/refuse-closed.ts';
import type { Below } from '../value/below.ts';
import { descriptorOf } from '../value/prototype-chain.ts';
import { refuse } from '../value/refuse.ts';
import { isHeldObject, saidOf } from './held-object.ts';
import { usedByEkkon } from './platform-own.ts';
import { exportOf, noSeam, ownerName, placeInSeam } from './replace.ts';
import { isNamespace, seamOf } from './seam.ts';
import { putBackSlot, refuseLocked } from './slot.ts';

/**
 * Puts a value at a property until the ledger is closed, whether or not there is one; an accessor there is replaced.
 *
 * @param below the public function, named in errors
 * @throws TypeError if it cannot be put there
 */
export function placeValue(
  journal: Journal,
  target: object,
  key: PropertyKey,
  value: unknown,
  below: Below,
): void {
  const said = `place(${saidOf(target)}, ${shortValue(key)})`;
  refuseClosed(journal, said, below);
  if (!isHeldObject(target))
    refuse(`${said}: the first is the object that has the property.`, below);
  if (!['string', 'symbol', 'number'].includes(typeof key))
    refuse(
      `${said}: the second is the property's name. Write place(navigator, 'geolocation', …).`,
      below,
    );
  if (isNamespace(target)) {
    placeExport(journal, target, key, value, below);
    return;
  }
  const used = usedByEkkon(target, key);
  if (used !== undefined)
    refuse(
      `place(${target === globalThis ? 'globalThis' : used}, ${shortValue(key)}): Ekkon uses ${used} itself, so nothing can be put in its place. Replace the function of yours that calls it.`,
      below,
    );
  const own = Object.getOwnPropertyDescriptor(target, key);
  const there = own ?? descriptorOf(target, key);
  refuseLocked(target, own, said, below);
  const placed: PropertyDescriptor =
    own?.configurable === false
      ? { ...own, value }
      : { value, writable: true, enumerable: there?.enumerable ?? true, configurable: true };
  try {
    Object.defineProperty(target, key, placed);
  } catch (error) {
    refuse(`${said}: ${error instanceof Error ? error.message : String(error)}`, below);
  }
  if (!Object.is(Reflect.get(target, key), value)) {
    if (own === undefined) Reflect.deleteProperty(target, key);
    else Reflect.defineProperty(target, key, own);
    refuse(`${said}: writing it has no effect on reading it.`, below);
  }
  doublesOn(journal).slots.push({
    member: `${ownerName(target)}.${String(key)}`,
    restore: () => putBackSlot({ target, key, placed, own }, () => own),
  });
}

/** Replaces a module's exported value for every importer: for example a component that is an object. */
function placeExport(
  journal: Journal,
  module: object,
  key: PropertyKey,
  value: unknown,
  below: Below,
): void {
  const said = `place(module, ${shortValue(key)})`;
  const there = exportOf(module, key);
  if (there === undefined) refuse(`${said}: the module exports nothing of this name.`, below);
  const seam = seamOf(module, key, there.value);
  // A value that is not a function has no other place.
  if (seam === undefined) refuse(`${said}: ${noSeam(module, key, Object)}`, below);
  const member = `${seam.module}.${String(key)}`;
  placeInSeam(journal, member, seam, value, (why) => refuse(`${said}: ${why}`, below));
}
