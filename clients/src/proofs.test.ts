import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { beforeAll, expect, test } from 'vitest';
import { expectInDocs } from '../../packages/ekkon/tests/made-docs.ts';

const folder = fileURLToPath(new URL('../proofs', import.meta.url));
const vitest = fileURLToPath(new URL('../../node_modules/.bin/vitest', import.meta.url));

/** A test that was run: what it is called, and what failed it. */
type Ran = { readonly title: string; readonly status: string; readonly failureMessages: readonly string[] };

let hollow: readonly Ran[] = [];
let honest: readonly Ran[] = [];
beforeAll(() => {
  const place = mkdtempSync(join(tmpdir(), 'ekkon-proofs-'));
  const report = join(place, 'report.json');
  spawnSync(vitest, ['run', '--no-color', '--reporter=json', `--outputFile=${report}`], { cwd: folder });
  const { testResults }: { testResults: readonly { name: string; assertionResults: readonly Ran[] }[] } = JSON.parse(readFileSync(report, 'utf8'));
  rmSync(place, { recursive: true });
  const of = (file: string) => testResults.find(({ name }) => name.includes(file))?.assertionResults ?? [];
  [hollow, honest] = [of('hollow'), of('honest')];
});

/** What the rules cannot see: the act goes on when the test is over. */
const missed = ['the act is not awaited, and the check comes too early'];

test('the careful rules find tests that prove nothing', () => {
  expect(hollow).toHaveLength(41);
  expect(hollow.filter(({ status }) => status === 'passed').map(({ title }) => title)).toEqual(missed);
});

test('the careful rules refuse no honest test', () => {
  expect(honest).toHaveLength(40);
  expect(honest.filter(({ status }) => status !== 'passed')).toEqual([]);
});

test('the table of the docs says what was found', () => {
  const rows = hollow.map(({ title, failureMessages: [message = ''] }) => {
    const codes = /^code: (.*)$/m.exec(message)?.[1] ?? '–';
    return `| ${title} | ${codes} |`;
  });
  expectInDocs('rules.md', `| a test in which | is failed by |\n|---|---|\n${rows.join('\n')}`);
});
