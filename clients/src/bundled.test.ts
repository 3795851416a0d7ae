import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { afterAll, expect, test } from 'vitest';

const folder = mkdtempSync(join(tmpdir(), 'ekkon-bundled-'));
afterAll(() => rmSync(folder, { recursive: true }));
const clients = fileURLToPath(new URL('..', import.meta.url));

/** Records an object of a class, observes, compares a set, and fails: it needs every part that is loaded late. */
const suite = `
import { call, check, once, openLedger } from 'ekkon';
const ledger = openLedger();
const { dome } = ledger.standIns();
const lamp = { dim() {} };
ledger.observe(lamp, 'dim');
lamp.dim();
dome.open(new Set([{ at: 1 }]), new (class Frame { #id = 4 })());
try {
  check(once(call(lamp.dim)), once(call(dome.open, [new Set([{ at: 2 }]), 4])));
} catch (error) {
  console.log(error.message.split('\\n')[0].replace(/ \\(.*?:\\d+\\)/, ''));
}
`;
const expected = '#2 dome.open: [0]["{ at: 1 }"].at expected 2, received 1; [1] expected 4, received ‹Frame, state hidden›; 1 of 2 claims fails';

const ways = [
  { platform: 'node', format: 'esm' },
  { platform: 'node', format: 'cjs' },
  { platform: 'browser', format: 'esm' },
] as const;

test.each(ways)('a bundle explains what fails: $platform, $format', async ({ platform, format }) => {
  const outfile = join(folder, `${platform}.${format === 'cjs' ? 'cjs' : 'mjs'}`);
  const stdin = { contents: suite, resolveDir: clients };
  await build({ stdin, bundle: true, outfile, platform, format, logLevel: 'silent' });
  // What is for a browser asks for nothing of Node, so it runs here as well.
  expect(execFileSync(process.execPath, [outfile], { cwd: clients, encoding: 'utf8' }).trim()).toBe(expected);
});

test.each(['forks', 'vmThreads'])('a test that fails says why in this pool of Vitest: %s', (pool) => {
  const home = mkdtempSync(join(clients, '.pool-'));
  try {
    const [imports, ...body] = suite.trim().split('\n');
    writeFileSync(join(home, 'a.test.js'), `${imports}\nimport { test } from 'vitest';\ntest('fails', () => {\n${body.join('\n')}\n});\n`);
    writeFileSync(join(home, 'vitest.config.mjs'), `export default { test: { pool: '${pool}' } };\n`);
    const vitest = fileURLToPath(new URL('../../node_modules/vitest/vitest.mjs', import.meta.url));
    const printed = execFileSync(process.execPath, [vitest, 'run', '--root', home], { encoding: 'utf8' });
    expect(printed).toContain(expected);
  } finally {
    rmSync(home, { recursive: true });
  }
});
