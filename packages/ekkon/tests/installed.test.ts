import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { decode } from '@jridgewell/sourcemap-codec';
import { transformWithOxc } from 'vite';
import { afterAll, expect, test } from 'vitest';
import { devDependencies } from '../package.json';
import { expectInDocs } from './made-docs.ts';

const source = fileURLToPath(new URL('..', import.meta.url));
const root = fileURLToPath(new URL('../../..', import.meta.url));
const folder = mkdtempSync(join(tmpdir(), 'ekkon-installed-'));
afterAll(() => rmSync(folder, { recursive: true }));

/** Runs a command in the empty folder; where it fails, all it printed is in the error. */
function run(command: string, ...args: readonly string[]): string {
  const { status, stdout, stderr } = spawnSync(command, args, { cwd: folder, encoding: 'utf8' });
  if (status !== 0) throw new Error(`${command} ${args.join(' ')} ended with ${status}\n${stdout}${stderr}`);
  return stdout;
}

const userTest = `
import { expect, test } from 'vitest';
import { call, check, ClaimError, openLedger, once, plan, gives } from 'ekkon';
import { loadLedger, saveLedger } from 'ekkon/file';
import { weigh } from 'ekkon/weigh';
import { request, responds } from 'ekkon/requests';
import { standInServer } from 'ekkon/server';
import { test as withFixture } from 'ekkon/vitest';

interface Weather { rain(): number }

test('an installed copy records, replies, claims and reports', () => {
  const ledger = openLedger({ name: 'installed' });
  const station = ledger.standIn<Weather>('weather');
  plan(call(station.rain), gives(4));
  expect(station.rain()).toBe(4);
  check(once(call(station.rain)));
  expect(() => check(once(call(station.rain, [])), once(call(station.rain)), once(call(ledger.callable<() => void>('done'))))).toThrow(ClaimError);
  saveLedger(ledger, 'kept.jsonl');
  expect(weigh(ledger, once(call(station.rain)))).toMatchObject({ questions: 2, noticed: 2, unnoticed: [] });
  expect(loadLedger('kept.jsonl').entries()).toHaveLength(1);
});

test('an installed copy claims requests', async () => {
  const ledger = openLedger();
  const archive = await standInServer(ledger, 'archive');
  plan(request(archive, 'GET', '/frames/:id'), responds({ json: { id: 7 } }));
  expect(await (await fetch(archive.url + '/frames/7')).json()).toEqual({ id: 7 });
  check(once(request(archive, 'GET', '/frames/:id', { params: { id: '7' } })));
  ledger.close();
});

withFixture('the fixture opens a ledger', ({ ledger }) => expect(ledger.name).toBe('the fixture opens a ledger'));

// @ts-expect-error a reply of the wrong type
plan(call(openLedger().standIn<Weather>('weather').rain), gives('rain'));
`;

const nodeTest = `
import { item, exactItems, check, once, reach } from 'ekkon';
import { test } from 'ekkon/node';

test('the runner of Node has a ledger', { ledger: { rules: 'strict' } }, async ({ ledger }) => {
  const rain = ledger.follow(new ReadableStream({ start: (send) => send.enqueue(0.4) }), 'rain');
  await reach(once(item(rain, 0.4)));
  check(exactItems(rain, [0.4]));
});
`;

const tariff = `
import { rateFor } from './rates.cjs';
export const rateOfNight = () => rateFor('night');
export const priceFor = (minutes) => minutes * 2;
export const priceOfNight = () => priceFor(600);
`;

const seamsTest = `
import { call, check, gives, once, plan } from 'ekkon';
import { importAgain } from 'ekkon/seams';
import { test } from 'ekkon/node';
import assert from 'node:assert';
import * as odd from 'odd-package';
import * as rates from './rates.cjs';
import * as tariff from './tariff.mjs';

test('what modules and packages export is replaced', async ({ ledger }) => {
  ledger.takeOver(tariff, 'priceFor');
  plan(call(tariff.priceFor), gives(1));
  assert.equal(tariff.priceOfNight(), 1);
  ledger.takeOver(odd, 'isOdd');
  assert.equal(odd.isOdd(3), undefined);
  ledger.takeOver(rates, 'rateFor');
  assert.equal(tariff.rateOfNight(), undefined);
  check(once(call(tariff.priceFor, [600])), once(call(odd.isOdd, [3])), once(call(rates.rateFor, ['night'])));
  const fresh = await importAgain(() => import('./tariff.mjs'));
  assert.equal(fresh.priceOfNight(), 1200);
});
`;

const plainTypes = `
import { call, check, once, openLedger } from 'ekkon';
import { importAgain, registerSeams } from 'ekkon/seams';
import { seams } from 'ekkon/vite';
const { dome } = openLedger().standIns<{ dome: { open(to: number): void } }>();
check(once(call(dome.open, [4])));
registerSeams({ of: ['odd-package'] });
export const plugins: readonly { readonly name: string }[] = [seams()];
export const loaded: Promise<number> = importAgain(() => Promise.resolve(1));
`;

/** The texts of the sources that have a place in built code, and those of them that stand there. */
function textsOf(code: string, mapPath: string): { mapped: number; found: number } {
  const { mappings, sourcesContent } = JSON.parse(readFileSync(mapPath, 'utf8'));
  const built = code.split('\n');
  const sources = sourcesContent.map((source: string) => source.split('\n'));
  const texts = { mapped: 0, found: 0 };
  for (const [at, line] of decode(mappings).entries()) {
    for (const [column, source = 0, row = 0, from] of line) {
      const text = sources[source]?.[row]?.slice(from).match(/^'([a-z ]{3,})/)?.[1];
      if (text === undefined) continue;
      texts.mapped++;
      if (built[at]?.startsWith(text, column + 1)) texts.found++;
    }
  }
  return texts;
}

/** The files that pages show whole, by name. */
function filesOfPages(): ReadonlyMap<string, string> {
  const docs = readdirSync(join(root, 'docs')).filter((name) => name.endsWith('.md'));
  const pages = ['README.md', 'packages/ekkon/README.md', ...docs.map((name) => `docs/${name}`)];
  const files = new Map<string, string>();
  for (const page of pages)
    for (const [, name = '', code = ''] of readFileSync(join(root, page), 'utf8').matchAll(/^```ts (\S+)\n([\s\S]*?)^```/gm)) {
      if (files.has(name)) throw new Error(`two pages show ${name}`);
      files.set(name, code);
    }
  return files;
}

/** What a terminal shows of a run, without what is another each time. */
function transcript(output: string): string {
  return output
    .replaceAll(folder, '')
    .replace(/^npm warn .*\n/gm, '')
    .replace(/^ RUN .*$/m, ' RUN  /first-test')
    .replace(/ \d+ms$/gm, '')
    .replace(/^ +(Start at|Duration) .*\n/gm, '')
    .replace(/⎯{20,}/g, '⎯'.repeat(20))
    .trim();
}

test('an installed copy type-checks, runs in a test, and has the command', { timeout: 120_000 }, async () => {
  execFileSync('npm', ['pack', '--silent', '--pack-destination', folder], { cwd: source, stdio: 'pipe' });
  const { typescript, vitest, '@types/node': types } = devDependencies;
  const [tarball] = readdirSync(folder).filter((name) => name.endsWith('.tgz'));
  writeFileSync(join(folder, 'package.json'), '{ "private": true, "type": "module" }');
  const wanted = [`./${tarball}`, `typescript@${typescript}`, `vitest@${vitest}`, `@types/node@${types}`];
  run('npm', ...'install --silent --prefer-offline --no-audit --no-fund'.split(' '), ...wanted);
  writeFileSync(join(folder, 'user.test.ts'), userTest);
  for (const name of ['user.node.ts', 'user.node.mjs']) writeFileSync(join(folder, name), nodeTest);

  const built = join(folder, 'node_modules/ekkon/dist');
  let [mapped, found] = [0, 0];
  for (const name of readdirSync(built).filter((each) => each.endsWith('.js'))) {
    const code = readFileSync(join(built, name), 'utf8');
    expect(code).toMatch(/^[\0-\x7f]*$/);
    if (!code.includes('sourceMappingURL=')) continue;
    const texts = textsOf(code, join(built, `${name}.map`));
    mapped += texts.mapped;
    found += texts.found;
  }
  expect(found / mapped).toBeGreaterThan(0.98);

  writeFileSync(join(folder, 'tariff.mjs'), tariff);
  writeFileSync(join(folder, 'rates.cjs'), 'exports.rateFor = (time) => time.length;');
  writeFileSync(join(folder, 'seams.node.mjs'), seamsTest);
  writeFileSync(join(folder, 'plain.ts'), plainTypes);
  mkdirSync(join(folder, 'node_modules/odd-package'));
  writeFileSync(join(folder, 'node_modules/odd-package/package.json'), '{ "name": "odd-package", "main": "index.js" }');
  writeFileSync(join(folder, 'node_modules/odd-package/index.js'), 'exports.isOdd = (number) => number % 2 === 1;');

  const typed = (lib: string, ...more: readonly string[]) =>
    run('npx', ...`tsc --noEmit --strict --module nodenext --target es2022 --ignoreConfig --lib ${lib} --types`.split(' '), '', ...more);
  typed('es2022,esnext.disposable,dom', '--exactOptionalPropertyTypes', 'user.test.ts', 'user.node.ts');
  // Without the types of a DOM or of Node, and with the library's own types checked.
  typed('es2022,esnext.disposable', 'plain.ts');
  expect(run('npx', 'vitest', 'run', '--no-color')).toMatch(/Tests {2}3 passed/);
  expect(run('node', '--test', '--test-reporter=tap', 'user.node.mjs')).toMatch(/# pass 1\n/);
  process.env['EKKON_SEAMS'] = 'odd-package';
  expect(run('node', '--import', 'ekkon/seams', '--test', '--test-reporter=tap', 'seams.node.mjs')).toMatch(/# pass 1\n/);
  delete process.env['EKKON_SEAMS'];
  await tryFilesOfPages();
  expect(run('npx', 'ekkon', 'demo')).toContain('all 15 claims hold');
  expect(run('npx', 'ekkon', 'show', 'kept.jsonl')).toContain('weather.rain()');
});

/** The files that pages show whole type-check and pass, but for the one that is to fail: its page has what the terminal shows. */
async function tryFilesOfPages(): Promise<void> {
  const pages = join(folder, 'pages');
  mkdirSync(pages);
  const files = filesOfPages();
  for (const [name, code] of files) writeFileSync(join(pages, name), code);
  const options = { strict: true, noEmit: true, module: 'nodenext', target: 'es2022', allowImportingTsExtensions: true, skipLibCheck: true };
  writeFileSync(join(pages, 'tsconfig.json'), JSON.stringify({ compilerOptions: { ...options, types: ['node'] }, include: ['.'] }));
  run('npx', 'tsc', '-p', 'pages');
  const ended = spawnSync('npx', ['vitest', 'run', '--no-color', '--root', 'pages', '--dir', 'pages'], { cwd: folder, encoding: 'utf8' });
  const tests = [...files.keys()].filter((name) => name.endsWith('.test.ts'));
  expect(ended.stdout).toContain(`Test Files  1 failed | ${tests.length - 1} passed (${tests.length})`);
  const { code } = await transformWithOxc(files.get('first-light.node.ts') ?? '', 'first-light.node.ts');
  writeFileSync(join(pages, 'first-light.node.mjs'), code);
  expect(run('node', '--test', '--test-reporter=tap', 'pages/first-light.node.mjs')).toMatch(/# pass 1\n/);

  const shown = spawnSync('npx', ['vitest', 'run', '--no-color', '--root', 'pages', '--dir', 'pages', 'dry'], { cwd: folder, encoding: 'utf8' });
  expectInDocs('first-test.md', `\`\`\`\n${transcript(shown.stdout + shown.stderr)}\n\`\`\``);
}
