import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build } from 'vite';
import { afterAll, beforeAll, expect, test } from 'vitest';
import * as sources from '../src/index.ts';

const folder = mkdtempSync(join(tmpdir(), 'ekkon-minified-'));
let minified: typeof sources;

/** What is printed of each kind of pattern, step, claim, matcher and reply, and of a check that fails. */
function printedBy(ekkon: typeof sources): readonly string[] {
  const { call, once, item, completed, failed, returned, threw, fulfilled, rejected, settled, unfinished, reads, writes } = ekkon;
  const ledger = ekkon.openLedger({ name: 'a dry night', rules: 'loose', callSites: 0 });
  const { dome, mount } = ledger.standIns<{ dome: { open(how?: unknown): void; close(): void }; mount: { slewTo(): Promise<number> } }>();
  const gauge = { level: 1 };
  ledger.observe(gauge, 'level', { name: 'gauge' });
  const rain = ledger.follow(() => () => {}, 'rain');
  const slews = call(mount.slewTo);
  const patterns = [call(dome.open, [1]), item(rain, 0.4), completed(rain), failed(rain), returned(slews), threw(slews), fulfilled(slews, 2)];
  const more = [rejected(slews), settled(slews), reads(gauge, 'level'), writes(gauge, 'level', 2)];
  const matchers = [ekkon.anything, ekkon.about(1), ekkon.between(1, 2), ekkon.startsWith('a'), ekkon.partial({ a: 1 }), ekkon.typeOf('string')];
  const rest = [ekkon.unordered([1]), ekkon.not(1), ekkon.anyOf(1, 2), ekkon.allItems(1), ekkon.sized(2), ekkon.nullish, ekkon.includes(1)];
  const values = [new Map([[1, 2]]), new Error('lost'), new Date(0), new Uint8Array(2), /a/, Symbol.for('a'), 1n];
  const claims = [
    ...[...patterns, ...more].map((pattern) => once(pattern as never)),
    ...[...matchers, ...rest, ...values].map((value) => once(call(dome.open, [value as never]))),
    ekkon.never(unfinished(slews)),
    ekkon.times('1..*', call(dome.open)),
    ekkon.inTurn(call(dome.open), ekkon.either(slews, call(dome.close)), ekkon.inAnyOrder(slews, ekkon.loop(2, slews)), ekkon.optional(slews)),
    ekkon.inTurn(ekkon.unbroken(slews, slews)),
    ekkon.onlyAfter(slews, call(dome.open)),
    ekkon.leadsTo(slews, call(dome.open)),
    ekkon.inFlight(1, slews),
    ekkon.exactItems(rain, [1]),
    ekkon.nothingElse(dome),
    ekkon.during({ from: ledger.mark('dusk'), until: call(dome.close) }, ekkon.never(call(dome.open))),
  ];
  dome.open(2);
  const told = claims.map((claim) => {
    try {
      ekkon.check(claim);
      return `${claim.notation}: holds`;
    } catch (error) {
      return `${claim.notation}: ${(error as Error).name} ${(error as Error).message}`;
    }
  });
  const refused = [() => once(1 as never), () => ekkon.inTurn(), () => ekkon.times('x' as never, slews)].map((run) => {
    try {
      return run();
    } catch (error) {
      return (error as Error).name;
    }
  });
  return [...told, ...refused.map(String)];
}

beforeAll(async () => {
  await build({
    configFile: false,
    logLevel: 'silent',
    build: {
      outDir: folder,
      minify: true,
      lib: { entry: fileURLToPath(new URL('../src/index.ts', import.meta.url)), formats: ['es'], fileName: 'ekkon' },
      rolldownOptions: { external: [/^node:/], output: { minify: true } },
    },
  });
  minified = await import(pathToFileURL(join(folder, 'ekkon.mjs')).href).catch(() => import(pathToFileURL(join(folder, 'ekkon.js')).href));
});

afterAll(() => rmSync(folder, { recursive: true, force: true }));

test('what is printed does not depend on the names that a minifier leaves to functions', () => {
  expect(minified.once.name).not.toBe('once');
  expect(printedBy(minified)).toEqual(printedBy(sources));
});
