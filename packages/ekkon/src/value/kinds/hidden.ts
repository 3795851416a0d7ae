import { className } from '../class-name.ts';
import type { Copying } from '../copying.ts';
import { remember } from '../copying.ts';
import { isVeiled } from '../kind.ts';
import { behindProxy } from '../observed-state.ts';
import type { ValueKind } from './value-kind.ts';

/** An instance of a class of the platform that shows nothing: kept as it is. */
export const hidden: ValueKind = {
  copy: copyHidden,
  show: (_, value) => value,
  encode: (encoding, value) => encoding.shown(value),
  compare: (comparison, expected, received) =>
    comparison.add('opaque', expected, received, { why: 'hidden' }),
  print: (_, value) => `‹${className(value) ?? 'object'}, state hidden›`,
};

/** A proxy of a collection is copied as the collection, if its library shows it. */
function copyHidden(copying: Copying, value: object): unknown {
  const behind = isVeiled(value) ? behindProxy(value) : undefined;
  if (behind === undefined) return value;
  const copy = copying.copyAny(copying, behind);
  return typeof copy === 'object' && copy !== null ? remember(copying, value, copy) : value;
}
