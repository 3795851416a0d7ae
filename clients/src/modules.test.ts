import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from 'vitest';
import { expectInDocs } from '../../packages/ekkon/tests/made-docs.ts';
import { hasBrowserFor } from '../../scripts/browser.mjs';

const folder = fileURLToPath(new URL('../modules', import.meta.url));
const vitest = fileURLToPath(new URL('../../node_modules/.bin/vitest', import.meta.url));

type Results = Readonly<Record<string, string>>;

/** Runs a command beside the modules, as if no runner were around it, and gives the results that it prints. */
function resultsOf(command: string, args: readonly string[], given: Readonly<Record<string, string>> = {}): Results {
  const outer = Object.entries(process.env).filter(([name]) => !name.startsWith('VITEST') && name !== 'NODE_ENV' && name !== 'TEST');
  const { stdout, stderr } = spawnSync(command, args, { cwd: folder, encoding: 'utf8', env: { ...Object.fromEntries(outer), ...given } });
  const found = /RESULTS (\{.*\})$/m.exec(stdout)?.[1];
  if (found === undefined) throw new Error(`${command} ${args.join(' ')} printed no results:\n${stdout}${stderr}`);
  return JSON.parse(found);
}

const inVitest =
  (given: string, ...args: readonly string[]) =>
  () =>
    resultsOf(vitest, ['run', '--no-color', ...args], { MODULES_WITH: given });
const inNode =
  (...args: readonly string[]) =>
  () =>
    resultsOf(process.execPath, [...args, 'node.mjs']);
const inPage =
  (...args: readonly string[]) =>
  () =>
    resultsOf(process.execPath, ['page.mjs', ...args]);

const own = "the module's own calls";
const platform = 'a module of the platform';
const packages = ['a package of modules', 'a package in CommonJS: its default', 'a package in CommonJS: a name', "one package's import of another"];
const absent = 'a module that exists only in a framework';
const fresh = 'a module that acts when it is imported, once more';

/** Where the suite is run, how, and what of it does not work there. */
const places: readonly (readonly [place: string, run: () => Results, refused: readonly string[]])[] = [
  ['Vitest in Node, no set-up', inVitest('nothing'), [own, ...packages, absent, fresh]],
  ['Vitest in Node, `seams()`', inVitest('seams', '--pool', 'threads', '--isolate=false'), []],
  ['Vitest in vm pools, `seams()`', inVitest('platform', '--pool', 'vmThreads'), []],
  ['Vitest in a DOM environment, `seams()`', inVitest('platform', '--environment', 'jsdom'), []],
  ["Vitest's browser mode, `seams()`", inVitest('browser'), [platform]],
  ['served by Vite, `seams()`', inPage('served', 'test'), [platform]],
  ['built by Vite, `seams()`', inPage('built', 'test'), [platform]],
  ["Node's runner, `ekkon/seams`", inNode('--import', 'tsx', '--import', './register.mjs'), []],
];

const needsBrowser = (place: string) => /served|built|browser/.test(place);
const hasBrowser = hasBrowserFor('modules in a page');
const table = new Map<string, Results>();

describe('what modules export is replaced', () => {
  for (const [place, run, refused] of places) {
    test.runIf(hasBrowser || !needsBrowser(place))(place, { timeout: 120_000 }, () => {
      const results = run();
      table.set(place, results);
      expect(Object.keys(results).filter((need) => results[need] !== 'works')).toEqual(Object.keys(results).filter((need) => refused.includes(need)));
    });
  }

  test('what does not work says what to do', { timeout: 60_000 }, () => {
    const results = table.get('Vitest in Node, no set-up') ?? {};
    for (const need of packages)
      expect(results[need]).toMatch(/^takeOver\(module, "\w+"\): .*add seams\(\) from 'ekkon\/vite'.*seams\(\{ of: \['date-fns'\] \}\)/);
    expect(results[fresh]).toMatch(/^importAgain\(\): this call was not prepared.*seams\(\) from 'ekkon\/vite'.*--import ekkon\/seams/);
    expect(resultsOf(vitest, ['run', '--no-color', '--pool', 'vmThreads'], { MODULES_WITH: 'seams' })[platform]).toMatch(
      /seams\(\{ of: \['node:fs'\] \}\)/,
    );
  });

  test.runIf(hasBrowser)('nothing is prepared in a production build', { timeout: 60_000 }, () => {
    const results = resultsOf(process.execPath, ['page.mjs', 'built', 'production']);
    expect(results['a function that another module imports']).toMatch(/^takeOver\(module, "priceFor"\): this module was loaded in a way/);
  });

  test('a module that is loaded 1,000 times more keeps less than a megabyte', () => {
    const { kilobytes, runs } = resultsOf(process.execPath, ['--expose-gc', '--import', './register.mjs', 'fresh.mjs']) as unknown as Record<
      string,
      number
    >;
    expect(runs).toBe(1_050);
    expect(kilobytes).toBeLessThan(1_024);
  });

  test('the table of the docs says what was found', () => {
    if (table.size < places.length) return;
    const needs = Object.keys([...table.values()][0] ?? {});
    const lines = [
      `| | ${places.map(([place]) => place).join(' | ')} |`,
      `|---${'|---'.repeat(places.length)}|`,
      ...needs.map((need) => `| ${need} | ${places.map(([place]) => (table.get(place)?.[need] === 'works' ? 'yes' : '–')).join(' | ')} |`),
    ].join('\n');
    expectInDocs('modules.md', lines);
  });
});
