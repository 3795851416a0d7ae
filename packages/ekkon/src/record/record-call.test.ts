import { expect, test } from 'vitest';
import { call, check, fulfilled, gives, openLedger, plan, times } from '../index.ts';
import { platformClock } from './clock.ts';
import { openJournal } from './journal.ts';
import { endCall, endThrown, startCall } from './record-call.ts';
import { targetAt } from './target.ts';

test('where the stack was full, every call further in ends, though one inside of it has ended before', () => {
  const journal = openJournal({ name: 'deep', callSites: 0, reveals: [], clock: platformClock });
  const kept: number[] = [];
  const hear = (entry: { readonly id: number }, end: boolean) => void kept.push(end ? -entry.id : entry.id);
  journal.keeping = { hear, pends: () => {}, mark: () => {}, close: () => {} };
  const target = targetAt(journal, 'tree', ['depth']);
  const [outer, , innermost] = [1, 2, 3].map(() => startCall(journal, target, 'call', undefined, [], undefined));
  if (outer === undefined || innermost === undefined) throw new Error('three calls began');
  endCall(journal, innermost, 1);
  endThrown(journal, outer, new RangeError('Maximum call stack size exceeded'));
  expect(kept.sort()).toEqual([-1, -2, -3, 1, 2, 3]);
  expect(journal.entries.map(({ outcome }) => outcome.state)).toEqual(['threw', 'threw', 'returned']);
});

test('a promise that is given once more has settled as it did', async () => {
  const { mount } = openLedger({ rules: 'loose' }).standIns<{ mount: { slewTo(): Promise<number> } }>();
  plan(call(mount.slewTo), gives(Promise.resolve(4)));
  await mount.slewTo();
  await mount.slewTo();
  check(times(2, fulfilled(call(mount.slewTo), 4)));
});
