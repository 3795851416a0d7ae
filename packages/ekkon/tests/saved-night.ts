import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll } from 'vitest';
import { ekkon } from './command.ts';

/** The command as it is built. */
export const cli = fileURLToPath(new URL('../dist/cli.js', import.meta.url));

/** A folder for the tests of one file, with the ledgers of two nights, one of them faulty, and claims on them. */
export function savedNight() {
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-files-'));
  const at = (name: string) => join(folder, name);
  const [night, faulty, claims] = [at('night.jsonl'), at('faulty.jsonl'), at('night.claims')];
  beforeAll(() => {
    ekkon('demo', '--save', night);
    ekkon('demo', '--fault', 'declination-lost', '--save', faulty);
    writeFileSync(
      claims,
      `# A night without clouds.
ledger "*"
once dome.open
once dome.close
in turn dome.open › 2 (fulfilled mount.slewTo › camera.expose) › dome.close
once camera.expose({
  seconds: 30, filter: "red", at: { ra: about(83.6), dec: 22 } })
never alarm.sound
`,
    );
  });
  afterAll(() => rmSync(folder, { recursive: true }));
  return { folder, at, night, faulty, claims };
}
