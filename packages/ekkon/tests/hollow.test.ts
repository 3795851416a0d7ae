import { beforeAll, describe, expect, test } from 'vitest';
import { cases } from '../../../examples/observatory/hollow/cases.ts';
import { moreCases } from '../../../examples/observatory/hollow/more-cases.ts';
import { type InnerTest, innerRun } from './inner-run.ts';

let tests: readonly InnerTest[] = [];
beforeAll(() => {
  ({ tests } = innerRun('hollow.case.ts'));
});

function named(name: string): InnerTest | undefined {
  return tests.find(({ fullName }) => fullName === name);
}

for (const { name, finding } of [...cases, ...moreCases]) {
  describe(`where ${name}`, () => {
    test('the test fails, and its first line says why', () => {
      const { status, failureMessages } = named(`${name} hollow`) ?? { status: 'missing', failureMessages: [] };
      expect(status).toBe('failed');
      expect(firstLine(failureMessages[0])).toMatch(finding);
    });

    test('the honest version passes', () => {
      expect(named(`${name} honest`)).toMatchObject({ status: 'passed', failureMessages: [] });
    });
  });
}

test.each([
  ['by the common expect', 'passed'],
  ['by the test’s own expect', 'passed'],
  ['by none', 'failed'],
  ['beside others by the test’s own expect', 'passed'],
  ['beside others by the common expect, which others count on too', 'failed'],
])('an assertion counted %s: %s', (name, status) => {
  expect(named(`assertions ${name}`)?.status).toBe(status);
});

/** The error's own first line, without its type. */
function firstLine(message = ''): string {
  return message.replace(/^(ClaimError|TypeError): /, '').split('\n')[0] ?? '';
}
