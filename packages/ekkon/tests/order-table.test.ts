import { readFileSync, writeFileSync } from 'node:fs';
import { ClaimError, check } from 'ekkon';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { claimOn, operators, patterns, scopes, tables } from './order-table.ts';

const holds = (trace: string, code: string): boolean => {
  try {
    check(claimOn(trace, code));
    return true;
  } catch (error) {
    if (error instanceof ClaimError) return false;
    throw error;
  }
};

const traces = fc.array(fc.constantFrom('p', 's', 't', 'q', 'r', 'x'), { maxLength: 8 }).map((letters) => letters.join(''));

test.each(patterns.flatMap((pattern) => scopes.map((scope) => ({ pattern, scope }))))(
  '$pattern.name $scope.name means what a direct reading says',
  ({ pattern, scope }) => {
    const code = scope.claim.replace('…', pattern.claim);
    fc.assert(
      fc.property(traces, (trace) => {
        expect(holds(trace, code)).toBe(scope.stretches(trace).every(pattern.holds));
      }),
      { numRuns: 60 },
    );
  },
);

test.each(operators)('the operator $name is $claim', ({ claim, accepts, refuses }) => {
  expect(accepts.filter((trace) => !holds(trace, claim))).toEqual([]);
  expect(refuses.filter((trace) => holds(trace, claim))).toEqual([]);
});

test('the documentation has these tables', () => {
  const file = new URL('../../../docs/order.md', import.meta.url);
  const text = readFileSync(file, 'utf8');
  const [before = '', , after = ''] = text.split(/<!-- tables -->\n|<!-- end of tables -->/);
  const current = `${before}<!-- tables -->\n${tables()}\n<!-- end of tables -->${after}`;
  if (process.env['UPDATE_DOCS'] === 'true') writeFileSync(file, current);
  expect(text).toBe(process.env['UPDATE_DOCS'] === 'true' ? text : current);
});
