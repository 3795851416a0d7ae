import { className } from '../class-name.ts';
import { compareProperties } from '../compare-properties.ts';
import { copyInstance } from '../copy-instance.ts';
import { classNamed, decodeOwn, made } from '../decoding.ts';
import { classOf, ownPairs } from '../encoding.ts';
import { hidesState } from '../hidden-state.ts';
import { pairsIn, textIn } from '../json.ts';
import { printProperties } from '../printing.ts';
import { showOwn } from '../showing.ts';
import { hidden } from './hidden.ts';
import type { ValueKind } from './value-kind.ts';

/** An instance of a class of somebody's own: all its own properties. */
export const instance: ValueKind = {
  copy: copyInstance,
  show(showing, value) {
    if (hidesState(value)) return showing.originalOf(value) ?? value;
    return showOwn(showing, value, Object.create(Object.getPrototypeOf(value)));
  },
  encode: (encoding, value) => ({
    $: 'instance',
    class: classOf(value),
    own: ownPairs(encoding, value),
  }),
  decode: {
    instance(decoding, json) {
      const prototype = classNamed(decoding, textIn(json, 'class'), Object);
      return decodeOwn(decoding, made(decoding, Object.create(prototype)), pairsIn(json, 'own'));
    },
  },
  compare: (comparison, expected, received) =>
    compareProperties(comparison, expected, received, 'all'),
  print(printing, value) {
    const keys = Reflect.ownKeys(value);
    if (keys.length === 0 && hidesState(value)) return hidden.print(printing, value);
    return printProperties(printing, value, className(value), keys);
  },
};
