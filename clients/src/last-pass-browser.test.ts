import { spawnSync } from 'node:child_process';
import { existsSync, rmSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { afterAll, expect, test } from 'vitest';
import { hasBrowserFor } from '../../scripts/browser.mjs';

const folder = fileURLToPath(new URL('../last-pass', import.meta.url));
const vitest = fileURLToPath(new URL('../../node_modules/.bin/vitest', import.meta.url));
const kept = `${folder}/.last-pass`;
afterAll(() => rmSync(kept, { recursive: true, force: true }));

/** Runs the suite in the browser, as if no runner were around it. */
function outputWith(fault: string): string {
  const outer = Object.entries(process.env).filter(([name]) => !name.startsWith('VITEST') && name !== 'NODE_ENV' && name !== 'TEST');
  const { stdout, stderr } = spawnSync(vitest, ['run', '--no-color'], {
    cwd: folder,
    encoding: 'utf8',
    env: { ...Object.fromEntries(outer), VITE_FAULT: fault },
  });
  return stdout + stderr;
}

test.runIf(hasBrowserFor("the last pass in Vitest's browser mode"))(
  "in Vitest's browser mode a store of one's own keeps the last pass",
  { timeout: 120_000 },
  () => {
    expect(outputWith('off')).toMatch(/Tests +1 passed/);
    expect(existsSync(kept)).toBe(true);
    expect(outputWith('on')).toMatch(
      /ClaimError: #2 dome\.turn was given -1, and 5 when this test last passed .*\n\nsince it last passed \(.*, 2 calls\): 1 change in 1 call\n {2}first {3}#2 {3}dome\.turn\(-1\) {3}\[0\] was 5, is -1/,
    );
  },
);
