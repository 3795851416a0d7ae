import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, expect, test } from 'vitest';

const kept = mkdtempSync(join(tmpdir(), 'ekkon-kept-'));
afterAll(() => rmSync(kept, { recursive: true }));

const file = fileURLToPath(new URL('node-runner/node-runner.case.mjs', import.meta.url));
const { NODE_OPTIONS: _, ...env } = process.env;
const { stdout } = spawnSync(process.execPath, ['--test', '--test-reporter=tap', file], { encoding: 'utf8', env: { ...env, EKKON_SAVE: kept } });

/** The test's line in the report, and what follows it up to the next one. */
function told(name: string): string {
  const at = stdout.search(new RegExp(`^ *(not )?ok \\d+ - ${name}`, 'm'));
  const rest = stdout.slice(at).trimStart();
  return at < 0 ? 'missing' : rest.slice(0, rest.search(/\n *\.\.\.\n/));
}

test('Node’s own runner weighs, if it is asked to', () => {
  const weighed = spawnSync(process.execPath, ['--test', '--test-reporter=tap', file], { encoding: 'utf8', env: { ...env, EKKON_WEIGH: '1' } });
  expect(weighed.stdout + weighed.stderr).toMatch(/ekkon: ".*": \d+ of \d+ questions noticed \(\d+ %\)/);
});

const tests: readonly [string, RegExp][] = [
  ['is named after its test', /^ok/],
  ['a finding at close fails the test', /^not ok[\s\S]*dome\.close was never called/],
  ['the own failure of the body comes first', /^not ok[\s\S]*the body failed\s+and then: dome\.close was never called/],
  ['calls back when it is done', /^ok/],
  ['calls back with an error', /^not ok[\s\S]*called back\s+and then: dome\.close was/],
  ['by rules of its own', /^not ok[\s\S]*#1 dome\.close\(\) .* has no plan[\s\S]*ledger "strictly"/],
  ['inside, with a ledger of its own', /^not ok[\s\S]*dome\.close was never called/],
  ['holds tests by the other name', /^ok/],
  ['is skipped', /^ok .* # SKIP/],
  ['is to be done', /^ok .* # TODO/],
];
test.each(tests)('Node’s own runner: %s', (name, report) => {
  expect(told(name)).toMatch(report);
});

test('Node’s own runner tells what a test waited for whose time was over', () => {
  expect(told('runs out of time')).toMatch(/^not ok[\s\S]*test timed out after 50ms/);
  expect(stdout.replaceAll(/^# ?/gm, '')).toMatch(
    /\n *still waited for: dome\.close was never called[\s\S]*the test still waited for it \(.*node-runner\.case\.mjs:\d+\) when it failed/,
  );
});

test('Node’s own runner keeps the ledgers of tests that failed', () => {
  const [index, page, ledger] = readdirSync(kept).toSorted();
  expect(index).toBe('index.html');
  expect(page).toMatch(/^node-runner-case-mjs-a-finding-at-close-fails-the-test\.[0-9a-f]+\.html$/);
  expect(ledger).toMatch(/^node-runner-case-mjs-a-finding-at-close-fails-the-test\.[0-9a-f]+\.ledger\.jsonl$/);
});
