import { execFile } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { describe, expect, test } from 'vitest';

const script = fileURLToPath(new URL('unhandled/code-under-test.mjs', import.meta.url));

/** What the platform said of rejections in a process of its own. */
async function told(made: string, used: string): Promise<unknown> {
  const { stdout, stderr } = await promisify(execFile)(process.execPath, [script, made, used]);
  return { told: JSON.parse(stdout) as unknown, stderr };
}

const uses: readonly [string, readonly string[]][] = [
  ['ignored', ['unhandled wind']],
  ['caught', ['caught']],
  ['awaited', ['caught']],
  ['caught too late', ['unhandled wind', 'caught', 'handled late']],
  ['caught in the next turn of promises', ['caught']],
  ['passed on', ['unhandled wind']],
  ['caught on one branch', ['caught', 'unhandled wind']],
  ['given on by an async function', ['unhandled wind']],
];

describe.concurrent('a rejection is reported by the platform as it is without Ekkon', () => {
  test.each(uses)('where it is %s', async (used, real) => {
    const without = { told: real, stderr: '' };
    const made = ['real', 'observed', 'computed', 'planned', 'deferred'];
    const all = await Promise.all(made.map(async (each) => [each, await told(each, used)]));
    expect(all).toEqual(made.map((each) => [each, without]));
  });
});
