import { className } from '../class-name.ts';
import { copyThing } from '../copy-instance.ts';
import { inQuotes } from '../escape.ts';
import { isKnownPart } from '../framework-parts.ts';
import { platformMember } from '../prototype-chain.ts';
import type { ValueKind } from './value-kind.ts';

/** An object of the platform with an identity: a socket, an element, a promise. Never equal to another. */
export const thing: ValueKind = {
  copy: (_, value) => copyThing(value),
  show: (_, value) => value,
  encode: (encoding, value) => encoding.shown(value),
  compare: (comparison, expected, received) =>
    comparison.add('changed', expected, received, { why: 'another' }),
  print: (_, value) => printThing(value),
};

/** Prints short: an element as its tag, anything else by its class. */
export function printThing(value: object): string {
  const read = (key: string) => {
    const found = platformMember(value, key);
    return found?.get === undefined ? found?.value : Reflect.apply(found.get, value, []);
  };
  try {
    const [name, id, kind] = [read('localName'), read('id'), read('className')];
    if (typeof name === 'string' && read('nodeType') === 1) {
      const marks = [
        typeof id === 'string' && id !== '' ? ` id=${inQuotes(id)}` : '',
        typeof kind === 'string' && kind !== '' ? ` class=${inQuotes(kind)}` : '',
      ];
      return `<${name}${marks.join('')}>`;
    }
  } catch {
    // An element whose document is gone, say.
  }
  return `‹${className(value) ?? (isKnownPart(value) ? 'part of a framework' : 'object')}›`;
}
