import fc from 'fast-check';
import { expect, test } from 'vitest';
import { holds } from './failure.ts';
import { forAll } from './for-all.ts';
import { expectInDocs } from './made-docs.ts';
import { claimOn, operators, patterns, scopes, tables } from './order-table.ts';

const traces = fc.array(fc.constantFrom('p', 's', 't', 'q', 'r', 'x'), { maxLength: 8 }).map((letters) => letters.join(''));

test.each(patterns.flatMap((pattern) => scopes.map((scope) => ({ pattern, scope }))))(
  '$pattern.name $scope.name means what a direct reading says',
  ({ pattern, scope }) => {
    const code = scope.claim.replace('…', pattern.claim);
    forAll(60, traces, (trace) => {
      expect(holds(claimOn(trace, code))).toBe(scope.stretches(trace).every(pattern.holds));
    });
  },
);

test.each(operators)('the operator $name is $claim', ({ claim, accepts, refuses }) => {
  expect(accepts.filter((trace) => !holds(claimOn(trace, claim)))).toEqual([]);
  expect(refuses.filter((trace) => holds(claimOn(trace, claim)))).toEqual([]);
});

test('the documentation has these tables', () => {
  expectInDocs('order.md', tables(), '<!-- tables -->\n', '\n<!-- end of tables -->');
});
