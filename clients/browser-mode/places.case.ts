import { call, check, once } from 'ekkon';
import { test } from 'ekkon/vitest';
import { type Tower, turn } from './tower.ts';

interface Expected {
  readonly to: number;
}

test('the tower turns', ({ ledger }) => {
  const expected: Expected = { to: import.meta.env['VITE_FAULT'] === 'on' ? 5 : 4 };
  const tower = ledger.standIn<Tower>('tower');
  turn(tower, 4);
  check(once(call(tower.open, [expected.to])));
});
