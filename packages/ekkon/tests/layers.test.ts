import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from 'vitest';

const source = fileURLToPath(new URL('../src', import.meta.url));

/** The folders in their order: each may import those before it. Those of the core come first. */
const core = ['value', 'record', 'notation', 'match', 'pattern', 'explain', 'claim', 'plan', 'judge', 'rule', 'grammar', 'alter', 'since'];
const folders = [
  ...core,
  'report',
  'wait',
  'double',
  'observe',
  'ledger',
  'file',
  'offline',
  'weigh',
  'requests',
  'vitest',
  'seams',
  'vite',
  'node',
  'cli',
];

/** Packages that stand in the built library itself. */
const bundled = ['diff', 'js-tokens', 'urlpattern-polyfill/urlpattern'];

const files = readdirSync(source, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'));

function importsOf(file: string): readonly string[] {
  const text = readFileSync(file, 'utf8');
  return [...text.matchAll(/(?:^|;) ?(?:(?:import|export)\b[^;]*?from|import)\s*['"]([^'"]+)['"]/gm)].map(([, name = '']) => name);
}

test('every folder imports only those before it, and the core nothing that is not its own', () => {
  const offences = files.flatMap((file) => {
    const [folder = '', ...inside] = file.split('/');
    if (inside.length === 0) return [];
    const allowed = folders.slice(0, folders.indexOf(folder) + 1);
    return importsOf(join(source, file))
      .filter((name) => name.startsWith('.') || core.includes(folder))
      .map((name) => (name.startsWith('.') ? relative(source, join(source, dirname(file), name)) : name))
      .filter((name) => !allowed.includes(name.split('/')[0] ?? '') && !(folder === 'cli' && isForCommand(name)))
      .filter((name) => !bundled.includes(name))
      .map((name) => `${file} imports ${name}`);
  });
  expect(offences).toEqual([]);
});

/** The command line is a user of the library as well, and tells its version. */
function isForCommand(name: string): boolean {
  return name === 'index.ts' || name === '../package.json';
}

test('what a test imports has no runtime dependency, as it is built, whether parts of it are loaded late or at once', () => {
  const built = fileURLToPath(new URL('../dist', import.meta.url));
  const loadedBy = (entry: string): readonly string[] => {
    const seen = new Set<string>();
    const visit = (file: string): void => {
      if (seen.has(file)) return;
      seen.add(file);
      for (const name of importsOf(join(built, file)).filter((each) => !each.startsWith('node:'))) {
        expect(name, `${file} imports a package`).toMatch(/^\.\.?\//);
        visit(join(dirname(file), name));
      }
    };
    visit(entry);
    return [...seen].map((name) => name.replace(/-[\w-]{8}(?=\.js)/, '')).toSorted();
  };
  // In Node nothing that only a failing check needs.
  expect(loadedBy('index.js')).toEqual(['core.js', 'index.js']);
  expect(loadedBy('web/index.js')).toEqual(expect.arrayContaining(['core.js', 'load.js', 'web/index.js']));
  // What only a module of Node has, a bundler for browsers would warn of.
  const shared = readdirSync(built).filter((name) => /^core-.*\.js$/.test(name));
  for (const name of ['load.js', 'web/index.js', ...shared]) expect(readFileSync(join(built, name), 'utf8'), name).not.toContain('import.meta');
});

test('an ordinary test loads nothing late, as it is built; a failing check does', () => {
  const here = fileURLToPath(new URL('..', import.meta.url));
  const lateParts = (then: string): readonly string[] => {
    const run = `import { createRequire } from 'node:module';
      process.argv[2] = ${JSON.stringify(join(here, 'dist/index.js'))};
      await import(${JSON.stringify(join(here, 'build-first.mjs'))});
      ${then}
      console.log(JSON.stringify(Object.keys(createRequire(import.meta.url).cache)));`;
    return JSON.parse(execFileSync(process.execPath, ['--input-type=module', '--eval', run], { encoding: 'utf8' }));
  };
  expect(lateParts('')).toEqual([]);
  const fails = `const { check, once, call, openLedger } = await import(process.argv[2]);
    try { check(once(call(openLedger().standIn('dome').open))); } catch {}`;
  expect(lateParts(fails).map((path) => path.replace(/.*late-/, ''))).toContain('failing.cjs');
});
