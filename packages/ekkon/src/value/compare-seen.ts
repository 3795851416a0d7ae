import { compareProperties } from './compare-properties.ts';
import type { Comparison } from './comparison.ts';
import { hidesState } from './hidden-state.ts';
import { kindOf } from './kind.ts';
import { recognise } from './platform/table.ts';
import { isSnapshot, type Snapshot } from './snapshot.ts';

/** Whether a value is an object that cannot be copied: a platform object, or its recorded state. */
export function isSeen(value: object): boolean {
  return isSnapshot(value) || kindOf(value) === 'platform';
}

/** Compares objects that cannot be copied by their visible state; an object with an identity equals only itself. */
export function compareSeen(comparison: Comparison, one: object, other: object): void {
  const seen = (value: object) => (kindOf(value) === 'platform' ? comparison.copyOf(value) : value);
  const [expected, received] = [seen(one), seen(other)];
  if (!isSnapshot(received) || received.type === undefined) {
    const areThings = isThing(expected) && isThing(received);
    if (areThings) comparison.add('changed', expected, received, { why: 'another' });
    else comparison.add('type', expected, received);
    return;
  }
  if (!isSnapshot(expected)) {
    const isDescribed = kindOf(expected) === 'plain';
    if (isDescribed) compareProperties(comparison, expected, received.content);
    else comparison.add('type', expected, received);
    return;
  }
  if (expected.type !== received.type || !areOfOneClass(expected.of, received.of)) {
    comparison.add('type', expected, received);
  } else if (expected.state !== received.state) {
    comparison.add('changed', expected, received);
  } else {
    compareShown(comparison, expected, received);
  }
}

function compareShown(comparison: Comparison, expected: Snapshot, received: Snapshot): void {
  const before = comparison.certain;
  if (comparison.isNew(expected.content, received.content))
    compareProperties(comparison, expected.content, received.content);
  if (comparison.certain > before) return;
  const unseen = expected.unseen ?? received.unseen;
  if (unseen !== undefined)
    comparison.add('opaque', expected, received, { why: 'unread', reason: unseen });
  else if (hidesState(received.of)) comparison.add('opaque', expected, received, { why: 'hidden' });
}

function isThing(value: object): boolean {
  return isSnapshot(value) ? value.type === undefined : kindOf(value) === 'thing';
}

/** Whether two instances are of the same class; each realm has its own of the platform's. */
function areOfOneClass(one: object, other: object): boolean {
  const [first, second] = [Object.getPrototypeOf(one), Object.getPrototypeOf(other)];
  if (first === second) return true;
  const [made, found] = [recognise(first), recognise(second)];
  return made?.prototype === first && found?.prototype === second;
}
