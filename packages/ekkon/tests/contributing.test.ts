import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { expect, test } from 'vitest';

const root = fileURLToPath(new URL('../../..', import.meta.url));
const read = (file: string) => readFileSync(`${root}/${file}`, 'utf8');
const source = 'packages/ekkon/src';

/** The files of the library, tests aside. */
const files = readdirSync(`${root}/${source}`, { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts') && name !== 'index.ts')
  .map((name) => `${source}/${name}`);

const naming = (word: RegExp) => files.filter((file) => word.test(read(file))).map((file) => file.slice(source.length + 1));

test('every file that the guides name is there', () => {
  for (const guide of ['CONTRIBUTING.md', 'docs/architecture.md']) {
    const named = [...read(guide).matchAll(/`((?:packages|docs|examples|bench|scripts|clients)\/[\w./-]+)`/g)].map(([, file = '']) => file);
    const inside = [...read(guide).matchAll(/`(\w+\/[\w./-]+\.ts)`/g)].map(([, file = '']) =>
      file.startsWith('packages/') || file.startsWith('clients/') ? file : `${source}/${file}`,
    );
    expect([...named, ...inside].filter((file) => !existsSync(`${root}/${file}`))).toEqual([]);
  }
});

test('a kind of claim is named in its own files and in the table of kinds, and nowhere else', () => {
  expect(naming(/\binFlightParts\b|\bHeldInFlight\b/).toSorted()).toEqual(['claim/explain-in-flight.ts', 'claim/in-flight.ts', 'claim/kinds.ts']);
});

test('a rule is named in its own file and in the table of rules, and nowhere else', () => {
  const own = naming(/\bswallowedCheck\b/).filter((file) => !file.startsWith('explain/') && !file.startsWith('report/'));
  expect(own.toSorted()).toEqual(['rule/rules.ts', 'rule/swallowed-check.ts']);
});

test('a finding code has its data, its words, its guidance and what it says of causes in one place each, beside where it is found', () => {
  expect(naming(/'outOfOrder'|\boutOfOrder:/).toSorted()).toEqual([
    'alter/failed-claim.ts',
    'claim/order/explain-order.ts',
    'explain/finding.ts',
    'report/findings.ts',
    'report/guide.ts',
  ]);
});

test('a class of the platform is named in its own file and in the table, and nowhere else', () => {
  expect(naming(/\bdomException\b|'DOMException'/).toSorted()).toEqual(['value/platform/dom-exception.ts', 'value/platform/table.ts']);
});
