import { spawnSync } from 'node:child_process';
import { cpSync, existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { afterAll, describe, expect, test } from 'vitest';
import type { HeldClaims } from '../src/claim/kinds.ts';
import { additions, type Step } from './adding/additions.ts';

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

/** All kinds of claims: one that is forgotten does not compile. */
const kindsOfClaims: Readonly<Record<keyof HeldClaims, true>> = {
  count: true,
  order: true,
  onlyAfter: true,
  leadsTo: true,
  inFlight: true,
  exactItems: true,
  during: true,
  nothingElse: true,
  conforms: true,
};

/** A copy of the sources, beside them so that packages are found. */
const copy = `${root}/packages/ekkon/.adding`;

function startCopy(): void {
  rmSync(copy, { recursive: true, force: true });
  cpSync(`${root}/${source}`, `${copy}/src`, { recursive: true, filter: (name) => !name.endsWith('.test.ts') });
  const tsconfig = {
    extends: '../tsconfig.json',
    compilerOptions: { noEmit: true, paths: { ekkon: ['./src/index.ts'] } },
    include: ['src'],
    exclude: ['src/cli'],
  };
  writeFileSync(`${copy}/tsconfig.json`, JSON.stringify(tsconfig));
}

function add({ file, before, put }: Step): void {
  const path = `${copy}/src/${file}`;
  const text = before === undefined ? put : readFileSync(path, 'utf8').replace(before, () => put + before);
  expect(text, `${file} has no ${before}`).toContain(put);
  writeFileSync(path, text);
}

/** What the compiler says of the copy; nothing if all is well. */
function compiled(): string {
  const { stdout } = spawnSync('npx', ['tsc', '-p', copy], { encoding: 'utf8' });
  return stdout.trim();
}

/** What CONTRIBUTING lists for something to add. */
function listed(what: string): readonly string[] {
  const [, list = ''] = new RegExp(`\\*\\*${what}\\*\\*[^\\n]*\\n\\n((?:- [^\\n]*\\n?(?:  [^\\n]*\\n?)*)+)`).exec(read('CONTRIBUTING.md')) ?? [];
  return [...list.matchAll(/^- `packages\/ekkon\/src\/([\w./-]+)`/gm)].map(([, file = '']) => file);
}

describe('what CONTRIBUTING says how to add', () => {
  afterAll(() => rmSync(copy, { recursive: true, force: true }));

  test.each(Object.entries(additions))('takes the files that are listed: %s', (what, steps) => {
    const touched = [...new Set(steps.map(({ file }) => file))].filter((file) => file !== 'index.ts');
    const existing = touched.filter((file) => existsSync(`${root}/${source}/${file}`));
    // A new file stands where the list has one as an example.
    expect(listed(what)).toHaveLength(touched.length);
    expect(listed(what)).toEqual(expect.arrayContaining(existing));
  });

  test('compiles if all of it is done, and then works', async () => {
    startCopy();
    for (const step of Object.values(additions).flat()) add(step);
    expect(compiled()).toBe('');
    const added = await import(/* @vite-ignore */ `${copy}/src/index.ts`);
    const ledger = added.openLedger({ rules: { base: 'loose', emptyNight: 'fail' } });
    const { dome } = ledger.standIns();
    const { call, check, once, asMany, even } = added;
    dome.open(4, new WeakRef(ledger));
    check(once(call(dome.open, [even, added.anything])), asMany(call(dome.open), call(dome.open)));
    expect(() => check(asMany(call(dome.open), call(dome.shut)))).toThrow(
      '1 more of the one than of the other\n\n 1  as many dome.open as dome.shut\n',
    );
    expect(added.summary(ledger)).toContain('dome.open(4, ‹weak reference›)');
    expect(() => added.openLedger({ rules: { emptyNight: 'fail' } }).close()).toThrow('nothing came');
    const { parseClaims } = await import(/* @vite-ignore */ `${copy}/src/claims.ts`);
    expect(parseClaims('once dome.open(even, anything)', ledger)).toHaveLength(1);
  });

  test('does not compile while a line of a table is missing', { timeout: 60_000 }, () => {
    const all = Object.values(additions).flat();
    const tables = all.filter(({ isOfTable }) => isOfTable === true);
    expect(tables.length).toBeGreaterThan(5);
    startCopy();
    for (const step of all) if (!tables.includes(step)) add(step);
    const wrong = [...compiled().matchAll(/\.adding\/src\/(\S+)\(\d+,\d+\): error/g)].map(([, file]) => file);
    expect([...new Set(wrong)].toSorted()).toEqual(tables.map(({ file }) => file).toSorted());
  });
});

test('no kind of claim is asked by its name outside of claim/', () => {
  const kinds = Object.keys(kindsOfClaims).join('|');
  const asking = files.filter((file) => new RegExp(`kind\\b[^;\\n]* [!=]== '(?:${kinds})'`).test(read(file)));
  expect(asking.filter((file) => !file.startsWith(`${source}/claim/`))).toEqual([]);
});

test('a class of the platform is named in its own file and in the table, and nowhere else', () => {
  expect(naming(/\bdomException\b|'DOMException'/).toSorted()).toEqual(['value/platform/dom-exception.ts', 'value/platform/table.ts']);
});
