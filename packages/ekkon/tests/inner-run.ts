import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('../../..', import.meta.url));

/** One test of an inner run. */
export interface InnerTest {
  readonly title: string;
  readonly fullName: string;
  readonly status: 'passed' | 'failed' | 'skipped';
  readonly failureMessages: readonly string[];
}

/** Runs a test file of its own with Vitest, and gives what became of its tests. */
export function innerRun(
  file: string,
  env: Readonly<Record<string, string>> = {},
): { readonly tests: readonly InnerTest[]; readonly output: string } {
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-inner-'));
  const report = join(folder, 'report.json');
  const { stdout, stderr } = spawnSync(
    join(root, 'node_modules/.bin/vitest'),
    [
      'run',
      '--config',
      'packages/ekkon/tests/inner.config.ts',
      '--no-color',
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${report}`,
      file,
    ],
    { cwd: root, encoding: 'utf8', env: { ...process.env, ...env } },
  );
  const output = stdout + stderr;
  try {
    const { testResults } = JSON.parse(readFileSync(report, 'utf8')) as {
      readonly testResults: readonly { readonly assertionResults: readonly InnerTest[] }[];
    };
    return { tests: testResults.flatMap(({ assertionResults }) => assertionResults), output };
  } catch (error) {
    throw new Error(`the inner run left no report:\n${output}`, { cause: error });
  } finally {
    rmSync(folder, { recursive: true });
  }
}
