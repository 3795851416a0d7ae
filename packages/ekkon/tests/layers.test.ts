import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from 'vitest';

const source = fileURLToPath(new URL('../src', import.meta.url));

/** Folders of the core, each with those it may import from. */
const core: Readonly<Record<string, readonly string[]>> = {
  record: [],
  notation: ['record'],
  match: ['record', 'notation'],
  claim: ['record', 'notation', 'match'],
  plan: ['record', 'notation', 'match', 'claim'],
  explain: ['record', 'notation', 'match', 'claim', 'plan'],
  rule: ['record', 'notation', 'match', 'claim', 'plan', 'explain'],
};

const files = readdirSync(source, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'));

function importsOf(file: string): readonly string[] {
  const text = readFileSync(file, 'utf8');
  return [...text.matchAll(/^(?:import|export)[^;]*?from\s*['"]([^'"]+)['"]/gm)].map(([, name = '']) => name);
}

test('the core imports one way only, and nothing that is not its own', () => {
  const offences = files.flatMap((file) => {
    const [folder = ''] = file.split('/');
    const allowed = core[folder];
    if (allowed === undefined) return [];
    return importsOf(join(source, file))
      .map((name) => (name.startsWith('.') ? relative(source, join(source, dirname(file), name)) : name))
      .filter((name) => ![folder, ...allowed].includes(name.split('/')[0] ?? ''))
      .map((name) => `${file} imports ${name}`);
  });
  expect(offences).toEqual([]);
});

test('what a test imports has no runtime dependency, as it is built', () => {
  const built = fileURLToPath(new URL('../dist', import.meta.url));
  const seen = new Set<string>();
  const visit = (file: string): void => {
    if (seen.has(file)) return;
    seen.add(file);
    for (const name of importsOf(join(built, file))) {
      expect(name, `${file} imports a package`).toMatch(/^\.\//);
      visit(name.slice(2));
    }
  };
  visit('index.js');
  expect(seen.size).toBeGreaterThan(1);
});
