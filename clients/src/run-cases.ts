import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/** Where the cases are. */
export const folder = fileURLToPath(new URL('../browser-mode', import.meta.url));
const vitest = fileURLToPath(new URL('../../node_modules/.bin/vitest', import.meta.url));

/** Runs cases in the browser, or where `PLACE` says, as if no runner were around them; returns all that is printed. */
export function runCases(cases: string, set: Readonly<Record<string, string>>): string {
  const outer = Object.entries(process.env).filter(
    ([name]) => !name.startsWith('VITEST') && name !== 'NODE_ENV' && name !== 'TEST',
  );
  const { stdout, stderr } = spawnSync(vitest, ['run', '--no-color'], {
    cwd: folder,
    encoding: 'utf8',
    env: { ...Object.fromEntries(outer), CASES: cases, ...set },
  });
  return stdout + stderr;
}
