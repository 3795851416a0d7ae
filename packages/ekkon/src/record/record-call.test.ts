import { expect, test } from 'vitest';
import { platformClock } from './clock.ts';
import { openJournal } from './journal.ts';
import { endCall, endThrown, startCall } from './record-call.ts';
import { targetAt } from './target.ts';

test('where the stack was full, every call further in ends, though one inside of it has ended before', () => {
  const journal = openJournal({ name: 'deep', callSites: 0, reveals: [], clock: platformClock });
  const target = targetAt(journal, 'tree', ['depth']);
  const [outer, , innermost] = [1, 2, 3].map(() => startCall(journal, target, 'call', undefined, [], undefined));
  if (outer === undefined || innermost === undefined) throw new Error('three calls began');
  endCall(journal, innermost, 1);
  endThrown(journal, outer, new RangeError('Maximum call stack size exceeded'));
  expect(journal.entries.map(({ outcome }) => outcome.state)).toEqual(['threw', 'threw', 'returned']);
});
