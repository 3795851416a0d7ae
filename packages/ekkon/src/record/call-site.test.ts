import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from 'vitest';
import { readSite, readSites } from './call-site.ts';

const folder = "/home/a b (2)/@scope/x#y/what?/100%/v@1.2/it's";

/** Lines of a stack as engines write them, and the file they name. */
const lines: readonly (readonly [line: string, file: string])[] = [
  [`    at run (${folder}/night.js:3:7)`, `${folder}/night.js`],
  [`    at ${folder}/night.js:3:7`, `${folder}/night.js`],
  [`    at async ${folder}/night.js:3:7`, `${folder}/night.js`],
  [`    at new Dome (${folder}/night.js:3:7)`, `${folder}/night.js`],
  [`    at Dome.a (b) [as open] (${folder}/night.js:3:7)`, `${folder}/night.js`],
  [`    at async Promise.all (file://${encodeURI(folder).replace('#', '%23').replace('?', '%3F')}/night.js:3:7)`, `${folder}/night.js`],
  ['    at Object.<anonymous> (file:///C:/my%20night/night.ts:3:7)', 'C:/my night/night.ts'],
  ['    at run (C:\\my night (2)\\night.ts:3:7)', 'C:\\my night (2)\\night.ts'],
  ['    at http://localhost:5173/src/night.ts?t=17#x:3:7', 'http://localhost:5173/src/night.ts'],
  ['run@http://localhost:5173/@fs/a/night.ts?v=1:3:7', 'http://localhost:5173/@fs/a/night.ts'],
  ['@file:///home/@scope/night.js:3:7', '/home/@scope/night.js'],
  ['    at run (/src/set-up.ts?ekkon-fresh:3:7)', '/src/set-up.ts'],
  ['    at file:///home/100%/night.js:3:7', '/home/100%/night.js'],
  ['    at run (my night.js:3:7)', 'my night.js'],
];

test('a place is read from a stack whatever its path holds', () => {
  for (const [line, file] of lines)
    expect([line, readSite({ stack: `Error\n${line}\n    at later (/elsewhere.js:1:1)` })]).toEqual([line, { file, line: 3, column: 7 }]);
  expect(readSite({ stack: 'Error\n    at node:internal/timers:1:1\n    at Array.map (<anonymous>)' })).toBeUndefined();
});

test('two places are read, and packages are left out unless there is nothing else', () => {
  const frames = ['/app/node_modules/rxjs/a.js', '/app/log.js', 'node:internal/b', '/app/night.js', '/app/main.js'];
  const stackOf = (files: readonly string[]) => ['Error', ...files.map((file) => `    at ${file}:1:2`)].join('\n');
  const filesOf = (files: readonly string[]) => readSites({ stack: stackOf(files) }).map(({ file }) => file);
  expect(filesOf(frames)).toEqual(['/app/log.js', '/app/night.js']);
  expect(filesOf(frames.slice(0, 1))).toEqual(['/app/node_modules/rxjs/a.js']);
});

test('calls and writes are placed in folders with odd names, in modules and in CommonJS', () => {
  const root = mkdtempSync(join(tmpdir(), 'ekkon-odd-'));
  const library = fileURLToPath(new URL('../../dist/index.js', import.meta.url));
  try {
    for (const name of ['night.mjs', 'night.cjs']) {
      const file = join(root, '@scope', 'x#y', 'what?', 'a (2) 100%', 'v@1', name);
      mkdirSync(dirname(file), { recursive: true });
      const body = `
const ledger = openLedger({ rules: 'loose' });
const dome = ledger.standIn('dome');
dome.open(1);
dome.angle = 4;
console.log(JSON.stringify(ledger.entries().map(({ site }) => [site.file, site.line])));`;
      const load = name.endsWith('.mjs')
        ? `import { openLedger } from ${JSON.stringify(library)};${body}`
        : `import(${JSON.stringify(library)}).then(({ openLedger }) => {${body}\n});`;
      writeFileSync(file, load);
      const { stdout, stderr } = spawnSync(process.execPath, [file], { encoding: 'utf8' });
      expect([stderr, JSON.parse(stdout)]).toEqual(['', [4, 5].map((line) => [file, line])]);
    }
  } finally {
    rmSync(root, { recursive: true });
  }
});
