import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { parse as parseTree } from 'acorn';
import { expect, test } from 'vitest';
import { openLedger } from '../index.ts';
import { registryName } from '../observe/seam.ts';
import { makeFactory, prepareCalls } from './fresh.ts';
import { prepareModule } from './prepare.ts';

type Slot = readonly [name: string, read: () => unknown, set: (value: unknown) => void];
type Registry = Record<string, readonly Slot[]>;

/** The platform's own import: the runner's gives copies of what it finds. */
const importing: string = 'data:text/javascript,export const importAsIs = (url) => import(url)';
const { importAsIs }: { importAsIs(url: string): Promise<Record<string, unknown>> } = await import(/* @vite-ignore */ importing);

/** Runs a module, and gives what it exports. */
const run = (code: string) => importAsIs(`data:text/javascript,${encodeURIComponent(code)}`);

const shown = (value: unknown) => (typeof value === 'function' ? `${value.name}/${value.length}` : typeof value);

/** Modules, each with the exports that can be replaced. */
const modules: readonly (readonly [code: string, replaceable: readonly string[]])[] = [
  ['export const open = (to) => to, shut = () => 0; export let { a, b: [c], ...d } = { a() {}, b: [() => 1] };', ['open', 'shut', 'a', 'c', 'd']],
  ['const open = () => 1;\nexport { open, open as "open it", open as default };', ['open', 'open it', 'default']],
  ['export { open, Dome };\nasync function open() {}\nclass Dome {}', ['open', 'Dome']],
  ['const f = () => 1, { g, h: [i = () => 2] } = { g() {}, h: [] }; export{f,g,i}', ['f', 'g', 'i']],
  ['const Map = () => 1, Symbol = 2, Object = 3;\nexport { Map, Symbol, Object };', ['Map', 'Symbol', 'Object']],
  ['const text = `\nconst open = 1`;\nexport const { open } = { open: () => text };', ['open']],
  ['// const open = 1\nvar x = 1, open = () => x;\nexport { open }', ['open']],
  ['export default function () { return 1 }\n(() => {})()', ['default']],
  ['export default async /* a */ function* /* b */ () {}', ['default']],
  ['export default class { }\n[1].forEach(() => {})', ['default']],
  ['export default class { static name() { return 7 } }', ['default']],
  ['export default class extends Array {}', ['default']],
  ['export default /* a */ async (a, b) => a', ['default']],
  ['const open = () => 5;\nexport /* the */ default open\n;[1].map(open)', ['default']],
  ['export default null;', ['default']],
  [
    'const make = () => () => 1;\nexport default /*#__PURE__*/ make();\nexport const own = /*#__PURE__*/ function () { return 2; }();',
    ['default', 'own'],
  ],
  [`export default ${'/*#__PURE__*/ '.repeat(30_000)}(() => 1);`, ['default']],
  ['export /* const */ default /**/ class /* extends */ { }', ['default']],
  [
    'import from, { basename as of /* } */, // from\n  join as default_ } from "node:path";\nexport { from, of, default_ };\nexport const own = from',
    ['own'],
  ],
  ['/*\nconst open = 1\n*/\nconst { open } = { open: () => 1 };\nexport { open }', ['open']],
  ['export default function named() {}\nexport const own = named', ['default', 'own']],
  [
    'import { basename, join as put } from "node:path";\nimport * as all from "node:path";\nimport path from "node:path";\nexport { basename, put, all, path };\nexport const own = () => put',
    ['own'],
  ],
  [
    'export * from "node:path";\nexport { join as j } from "node:path";\nexport * as p from "node:path";\nexport const own = function* () {}',
    ['own'],
  ],
  ['#!/usr/bin/env node\nexport const own = await Promise.resolve(() => 1);', ['own']],
  ['const { open } = { open: () => 1 };\nexport { open };\n{ const open = 2; class f {} }\n//# sourceMappingURL=x.map', ['open']],
];

test('a prepared module exports the same, and each variable of its own can be replaced, on the line where it was', async () => {
  for (const [code, replaceable] of modules) {
    const prepared = prepareModule(code, code) ?? '';
    const was = await run(code);
    const now = await run(prepared);
    const entries = (module: object) => Object.entries(module).map(([name, value]) => [name, shown(value)]);
    expect([code, entries(now)]).toEqual([code, entries(was)]);

    const slots = (globalThis as unknown as { readonly [registryName]: Registry })[registryName][code] ?? [];
    expect([code, slots.map(([name]) => name).sort()]).toEqual([code, [...replaceable].sort()]);
    for (const [name, read, set] of slots) {
      const double = () => 'double';
      expect([code, name, shown(read())]).toEqual([code, name, shown(was[name])]);
      set(double);
      expect([code, name, now[name]]).toEqual([code, name, double]);
      set(was[name]);
    }
    expect(
      prepared
        .split('\n')
        .slice(0, code.split('\n').length)
        .map((line) => line.length > 0),
    ).toEqual(code.split('\n').map((line) => line.length > 0));
  }
});

test('what is not a module in JavaScript, or was prepared already, is left alone', () => {
  const prepared = prepareModule('export const a = 1', 'a') ?? '';
  for (const code of ['', 'let a = 1', 'export { a } from "b"', 'export {}', 'export const a: number = (', '<template>export</template>', prepared])
    expect([code, prepareModule(code, 'b')]).toEqual([code, undefined]);
});

/** The modules of real packages, as far as they are modules. */
const packages = fileURLToPath(new URL('../../../../node_modules', import.meta.url));
const realModules = ['date-fns', 'immer', 'luxon', 'rxjs', 'mobx', '@reduxjs', 'fast-check', 'valibot', 'vue', 'acorn', 'es-module-lexer']
  .flatMap((name) =>
    readdirSync(`${packages}/${name}`, { recursive: true, encoding: 'utf8' })
      .filter((file) => /\.m?js$/.test(file) && !/(?:locale|node_modules)\//.test(file))
      .map((file) => `${packages}/${name}/${file}`),
  )
  .filter((_, at) => at % 4 === 0)
  .map((file) => ({ file, code: readFileSync(file, 'utf8') }))
  .filter(({ code }) => /^\s*export\b/m.test(code) || /;export\b/.test(code));

test('what is made of modules of real packages can be read', () => {
  expect(realModules.length).toBeGreaterThan(200);
  let made = 0;
  for (const { file, code } of realModules) {
    const prepared = prepareModule(code, file);
    if (prepared === undefined) continue;
    parseTree(prepared, { ecmaVersion: 'latest', sourceType: 'module', allowHashBang: true });
    made++;
  }
  expect(made).toBeGreaterThan(200);
});

test('a factory runs a module once more, with all it exports', async () => {
  for (const [code] of modules) {
    const was = await run(code);
    const { $ekkonFresh: make } = (await run(makeFactory(code))) as unknown as { $ekkonFresh(): Promise<[[string, () => unknown][], object[]]> };
    const [own, stars] = await make();
    const exported = Object.assign({}, ...stars, Object.fromEntries(own.map(([name, read]) => [name, read()])));
    if (stars.length > 0) exported.default = was.default;
    const entries = Object.entries(exported).filter(([, value]) => value !== undefined);
    const sorted = (all: readonly (readonly [string, unknown])[]) =>
      all.map(([name, value]) => [name, String(shown(value)).replace('$ekkon_d', 'default')]).sort();
    expect([code, sorted(entries)]).toEqual([code, sorted(Object.entries(was).filter(([, value]) => value !== undefined))]);
  }
});

test.each([
  ['importAgain(() => import("./a.js"))', 'importAgain(() => import("./a.js?ekkon-fresh"))'],
  ["await importAgain(async () => await import('./a.ts'))", "await importAgain(async () => await import('./a.ts?ekkon-fresh'))"],
  ['importAgain(function () { return import("./a.js?raw"); })', 'importAgain(function () { return import("./a.js?raw&ekkon-fresh"); })'],
  ['importAgain(() => import("./a.js").then((a) => a))', 'importAgain(() => import("./a.js?ekkon-fresh").then((a) => a))'],
  ['importAgain(() => import(name))', undefined],
  ['importAgain(() => { prepare(); return import("./a.js"); })', undefined],
  ['importAgain(() => load())', undefined],
  ['other(() => import("./a.js"))', undefined],
])('%s is prepared', (call, wanted) => {
  const line = 'import { importAgain } from "ekkon/seams";\n';
  expect(prepareCalls(line + call)).toBe(wanted === undefined ? undefined : line + wanted);
  const alias = 'import { importAgain as fresh } from "ekkon/seams";\n';
  expect(prepareCalls(alias + call.replace('importAgain', 'fresh'))).toBe(
    wanted === undefined ? undefined : alias + wanted.replace('importAgain', 'fresh'),
  );
  const before = (text: string) => text.replaceAll('importAgain', 'importFresh');
  expect(prepareCalls(before(line + call))).toBe(wanted === undefined ? undefined : before(line + wanted));
  expect(prepareCalls(call)).toBeUndefined();
});

const called: Readonly<Record<string, string>> = {
  'src/tariff.ts': 'tariff',
  'src/night/index.js': 'night',
  'node_modules/night-http/dist/source/index.js': 'night-http',
  'node_modules/.store/a@1/node_modules/night-http/night-http.min.js': 'night-http',
  'node_modules/@night/http/esm/main.mjs': '@night/http',
  'node_modules/night-dates/addNights.js?v=3': 'night-dates/addNights',
  '@night/framework': '@night/framework',
};
test.each(Object.entries(called))('%s is called %s in labels', async (id, name) => {
  using ledger = openLedger({ rules: 'loose' });
  const module = (await run(prepareModule('export default () => 1;', id) ?? '')) as { default(): number };
  ledger.observe(module, 'default');
  module.default();
  expect(ledger.entries().map(({ label }) => label)).toEqual([`${name}.default`]);
});

test('a module of which only the namespace is known is called after its default export', () => {
  using ledger = openLedger({ rules: 'loose' });
  function request() {}
  const exported = { enumerable: true, configurable: true };
  const module = Object.create(null, {
    [Symbol.toStringTag]: { value: 'Module' },
    default: { ...exported, get: () => request },
    other: { ...exported, get: () => shown },
  });
  ledger.observe(module, 'other');
  ledger.takeOver(module, 'default');
  module.other(1);
  module.default();
  expect(ledger.entries().map(({ label }) => label)).toEqual(['request.other', 'request.default']);
});
