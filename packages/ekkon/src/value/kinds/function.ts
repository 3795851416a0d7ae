import { printsAs } from '../prints-as.ts';
import { tiedTo } from '../tie.ts';
import { printOfOther } from './own.ts';
import type { ValueKind } from './value-kind.ts';

/** A function: itself, and equal to itself alone. */
export const func: ValueKind = {
  copy: (_, value) => value,
  show: (_, value) => value,
  encode: (encoding, value) => encoding.shown(value),
  compare: (comparison, expected, received) => comparison.add('changed', expected, received),
  print: (_, value) => printFunction(value),
};

function printFunction(value: object): string {
  try {
    const shown = Object.getOwnPropertyDescriptor(value, printsAs)?.value;
    if (typeof shown === 'string') return tiedTo(value) === undefined ? printOfOther(shown) : shown;
    const name = Object.getOwnPropertyDescriptor(value, 'name')?.value;
    const word = /^class\b/.test(Function.prototype.toString.call(value)) ? 'class' : 'function';
    return typeof name === 'string' && name !== '' ? `‹${word} ${name}›` : `‹${word}›`;
  } catch {
    return '‹function›';
  }
}
