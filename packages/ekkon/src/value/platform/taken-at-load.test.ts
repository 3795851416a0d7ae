import { afterEach, expect, test } from 'vitest';
import { takenAtLoad } from './taken-at-load.ts';

declare global {
  var madeUp: (() => string) | undefined;
}
const real = () => 'real';

/** A global that is loaded on first use, as Node has it. */
function lazy(): { loads: number } {
  const told = { loads: 0 };
  const set = (value: unknown) => Object.defineProperty(globalThis, 'madeUp', { value, configurable: true, writable: true });
  const get = () => {
    told.loads++;
    set(real);
    return real;
  };
  Object.defineProperty(globalThis, 'madeUp', { get, set, configurable: true });
  return told;
}
afterEach(() => Reflect.deleteProperty(globalThis, 'madeUp'));

test('a global that is loaded on first use is loaded when it is read', () => {
  const told = lazy();
  const read = takenAtLoad('madeUp');
  expect([told.loads, read(), told.loads, globalThis.madeUp]).toEqual([0, real, 1, real]);
});

test('a replacement has no effect on it, and stays', () => {
  lazy();
  const read = takenAtLoad('madeUp');
  const double = () => 'double';
  globalThis.madeUp = double;
  expect([read(), globalThis.madeUp]).toEqual([real, double]);
});

test('an ordinary global is taken as it is', () => {
  globalThis.madeUp = real;
  const read = takenAtLoad('madeUp');
  globalThis.madeUp = () => 'double';
  expect([read(), takenAtLoad('nothing' as never)()]).toEqual([real, undefined]);
});
