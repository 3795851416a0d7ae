import { expect, test } from 'vitest';
import * as ekkon from '../src/index.ts';

/** The library as it is built: another copy than the sources are. */
const other = (await import(/* @vite-ignore */ new URL('../dist/index.js', import.meta.url).href)) as typeof ekkon;

const { call, check, never, once, openLedger } = ekkon;
const { dome } = openLedger({ callSites: 0, rules: 'loose' }).standIns<{ dome: { open(to?: unknown): void; close(): unknown } }>();
dome.open(3);

test.each(['index.js', 'web/index.js'])('what is built exports every name (%s)', async (file) => {
  const built = (await import(/* @vite-ignore */ new URL(`../dist/${file}`, import.meta.url).href)) as object;
  expect(Object.keys(built).sort()).toEqual(Object.keys(ekkon).sort());
});

test.each<[string, () => unknown, string]>([
  ['a matcher', () => never(call(dome.open, [other.between(0, 5)])), 'between(0, 5) was made by another copy of Ekkon'],
  ['a matcher inside of a value', () => never(call(dome.open, [{ to: [other.anything] }])), 'anything was made by another copy of Ekkon'],
  ['a matcher inside of a matcher', () => ekkon.partial({ to: new Map([[1, other.anything]]) }), 'anything was made by another copy of Ekkon'],
  ['what stands for the rest', () => never(call(dome.open, [other.anyRest as never])), 'anyRest was made by another copy of Ekkon'],
  ['a member', () => other.call(dome.open), '‹[member dome.open], of another copy of Ekkon›, which no ledger records'],
  ['a pattern', () => other.once(call(dome.open)), '‹dome.open, of another copy of Ekkon›'],
  ['a claim', () => other.check(once(call(dome.open))), '‹once dome.open, of another copy of Ekkon›, which is not a claim'],
  ['a reply', () => ekkon.plan(call(dome.close), other.gives(1)), '‹gives 1, of another copy of Ekkon›'],
])('%s of another copy of the library is refused, and said to be of one', (_, run, said) => {
  expect(run).toThrow(TypeError);
  expect(run).toThrow(said);
});

test('a double of another copy is a value with an identity, and both record what one object is asked', () => {
  const ledger = other.openLedger({ callSites: 0 });
  const show = ledger.callable<(value: unknown) => void>('show');
  show(dome);
  show({ open: dome.open });
  other.check(other.once(other.call(show, [dome])), other.once(other.call(show, [{ open: dome.open }])));
  const clock = { now: () => 5 };
  const [first, second] = [openLedger({ callSites: 0 }), ledger];
  first.observe(clock, 'now');
  second.observe(clock, 'now');
  expect(clock.now()).toBe(5);
  check(once(call(clock.now)));
});
