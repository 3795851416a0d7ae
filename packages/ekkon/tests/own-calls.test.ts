import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, test } from 'vitest';

test('no built-in that the library mentions records a call of the library itself', () => {
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-own-calls-'));
  try {
    const walk = fileURLToPath(new URL('own-calls/walk.mjs', import.meta.url));
    const { observed, found } = JSON.parse(execFileSync(process.execPath, [walk, folder], { encoding: 'utf8' }));
    expect(found).toEqual([]);
    expect(observed).toBeGreaterThan(250);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});
