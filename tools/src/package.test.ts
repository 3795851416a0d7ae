import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { publint } from 'publint';
import { afterAll, beforeAll, expect, test } from 'vitest';

const source = fileURLToPath(new URL('../../packages/ekkon', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'ekkon-package-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
let tarball = '';

function run(command: string, ...args: readonly string[]): string {
  const { status, stdout, stderr } = spawnSync(command, args, { cwd: folder, encoding: 'utf8' });
  if (status !== 0) throw new Error(`${command} ${args.join(' ')} ended with ${status}\n${stdout}${stderr}`);
  return stdout;
}

beforeAll(() => {
  spawnSync('npm', ['pack', '--silent', '--pack-destination', folder], { cwd: source });
  tarball = readdirSync(folder).find((name) => name.endsWith('.tgz')) ?? '';
  writeFileSync(join(folder, 'package.json'), '{ "private": true, "type": "module" }');
  run('npm', 'install', '--silent', '--prefer-offline', '--no-audit', '--no-fund', `./${tarball}`);
}, 60_000);

test('a well-known linter of packages finds nothing', async () => {
  const { messages } = await publint({ pkgDir: source, strict: true, pack: false });
  expect(messages.map(({ code, path }) => `${code} ${path.join('.')}`)).toEqual([]);
});

test('a well-known checker of types finds every entry right for those who import it', () => {
  const attw = fileURLToPath(import.meta.resolve('@arethetypeswrong/cli/package.json')).replace('package.json', 'dist/index.js');
  const said = run('node', attw, tarball, '--profile', 'esm-only', '--format', 'json', '--exclude-entrypoints', './ledger.schema.json');
  const { analysis } = JSON.parse(said);
  const problems = analysis.problems.map(({ kind, entrypoint, resolutionKind }: Record<string, string>) => `${kind} ${entrypoint} ${resolutionKind}`);
  // Those who require it get the module itself, as Node gives it since 20.19; types there are those of a module.
  const real = problems.filter((problem: string) => !/CJSResolvesToESM|node10/.test(problem));
  expect(real).toEqual([]);
});

test('it can be required', () => {
  expect(
    run('node', '--no-warnings', '-e', "console.log(Object.keys(require('ekkon')).includes('check'), typeof require('ekkon/file').saveLedger)"),
  ).toBe('true function\n');
});

test('an argument of the wrong type is named by itself', () => {
  writeFileSync(
    join(folder, 'wrong.ts'),
    `import { call, openLedger } from 'ekkon';
interface Dome { open(far: number, how: 'slow' | 'fast'): void; on(event: 'open', hear: (far: number) => void): void; on(event: 'shut', hear: () => void): void }
const dome = openLedger().standIn<Dome>('dome');
call(dome.open, [1, 'fats']);
call(dome.open, ['1', 'fast']);
call(dome.on, ['opened', () => {}]);
`,
  );
  const tsc = fileURLToPath(import.meta.resolve('typescript/package.json')).replace('package.json', 'bin/tsc');
  const { stdout } = spawnSync('node', [tsc, '--noEmit', '--strict', '--skipLibCheck', '--module', 'nodenext', '--pretty', 'false', 'wrong.ts'], {
    cwd: folder,
    encoding: 'utf8',
  });
  const told = [...stdout.matchAll(/^wrong\.ts\((\d+,\d+)\): error TS\d+: (.*)$/gm)].map(([, place, said]) => `${place} ${said}`);
  expect(told).toEqual([
    `4,21 Type '"fats"' is not assignable to type 'Rest | Fitting<"slow" | "fast">'.`,
    "5,18 Type 'string' is not assignable to type 'Fitting<number>'.",
    `6,16 Type '"opened"' is not assignable to type 'Fitting<"open"> | Fitting<"shut">'. Did you mean '"open"'?`,
  ]);
});

test.each(['5.5', '5.9', '6.0', '7.0'])(
  'its types check under TypeScript %s, however modules are resolved, with and without those of a DOM',
  (version) => {
    const place = join(folder, version);
    mkdirSync(place);
    writeFileSync(join(place, 'package.json'), '{ "private": true, "type": "module" }');
    run('npm', 'install', '--silent', '--prefer-offline', '--no-audit', '--no-fund', '--prefix', place, `typescript@~${version}.0`);
    writeFileSync(
      join(folder, 'use.ts'),
      `import { call, type Claim, check, gives, once, openLedger, partial, plan } from 'ekkon';
import { parseClaims } from 'ekkon/claims';
import { weigh } from 'ekkon/weigh';
const ledger = openLedger({ rules: 'careful' });
const { dome } = ledger.standIns<{ dome: { open(how: { far: number }): number } }>();
plan(call(dome.open), gives(4));
check(once(call(dome.open, [partial({ far: 1 })])), ...parseClaims('once dome.open', ledger));
const claims: readonly Claim[] = [once(call(dome.open))];
check(...claims);
// @ts-expect-error nothing to check
check();
type Called = (...args: never[]) => unknown;
export const calledWith = <F extends Called>(member: F, args: Parameters<typeof call<F>>[1]): Claim => once(call(member, args));
calledWith(dome.open, [{ far: 1 }]);
// @ts-expect-error no such argument
calledWith(dome.open, [{ near: 1 }]);
export const { questions }: { readonly questions: number } = weigh(ledger);
// @ts-expect-error a reply of the wrong type
plan(call(dome.open), gives('wide'));
`,
    );
    for (const [module, moduleResolution] of Object.entries({ nodenext: 'nodenext', node16: 'node16', esnext: 'bundler' }))
      for (const more of module === 'nodenext' ? [[], ['dom']] : [[]]) {
        const lib = ['es2022', 'esnext.disposable', ...more];
        const compilerOptions = { noEmit: true, strict: true, skipLibCheck: false, types: [], target: 'es2022', lib, module, moduleResolution };
        writeFileSync(join(folder, 'tsconfig.json'), JSON.stringify({ compilerOptions, files: ['use.ts'] }));
        run('node', join(place, 'node_modules/typescript/bin/tsc'), '-p', '.');
      }
  },
  120_000,
);

test('it runs under the oldest versions of its peers', () => {
  const place = join(folder, 'oldest');
  mkdirSync(place);
  const files = {
    'package.json': '{ "private": true, "type": "module" }',
    'vitest.config.js': "import { seams } from 'ekkon/vite';\nexport default { plugins: [seams()] };\n",
    'tower.js': 'export const height = () => 1;\n',
    'climb.js': "import { height } from './tower.js';\nexport const climb = () => height() + 1;\n",
    'oldest.test.js': `import { call, check, gives, once, plan } from 'ekkon';
import { test } from 'ekkon/vitest';
import { climb } from './climb.js';
import * as tower from './tower.js';
test('replaces what a module exports', ({ ledger }) => {
  const height = ledger.takeOver(tower, 'height');
  plan(call(height), gives(7));
  if (climb() === 8) check(once(call(height)));
});
test('names the culprit', ({ ledger }) => {
  const { dome } = ledger.standIns();
  dome.open(4);
  check(once(call(dome.open, [5])));
});
test('lacks a check', ({ ledger }) => void ledger.standIns().dome.open());
`,
  };
  for (const [name, text] of Object.entries(files)) writeFileSync(join(place, name), text);
  const { peerDependencies: peers } = JSON.parse(readFileSync(join(source, 'package.json'), 'utf8'));
  const oldest = Object.entries<string>(peers).map(([name, range]) => `${name}@${range.replace('>=', '')}.0`);
  run('npm', 'install', '--silent', '--prefer-offline', '--no-audit', '--no-fund', '--prefix', place, join(folder, tarball), ...oldest);
  const { stdout, stderr } = spawnSync('npx', ['vitest', 'run', '--no-color'], {
    cwd: place,
    encoding: 'utf8',
    env: { ...process.env, EKKON_RULES: 'careful' },
  });
  expect(stdout + stderr).toMatch(/ClaimError: #1 dome\.open \(oldest\.test\.js:12\): \[0\] expected 5, received 4[\s\S]*no claim was checked/);
  expect(stdout).toMatch(/Tests +2 failed \| 1 passed/);
}, 120_000);
