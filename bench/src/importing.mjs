import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { printRow } from './measure.mjs';

const starts = 15;

/** What importing the library for tests costs a process, beside importing an empty module. */
export function benchImport() {
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-import-'));
  try {
    const empty = join(folder, 'empty.mjs');
    writeFileSync(empty, 'export {};\n');
    const library = fileURLToPath(import.meta.resolve('ekkon'));
    const times = { library: [], empty: [] };
    for (let round = 0; round < starts; round++) {
      times.library.push(timeToImport(library));
      times.empty.push(timeToImport(empty));
    }
    const [ours, other] = [Math.min(...times.library), Math.min(...times.empty)];
    printRow(
      "import 'ekkon' / import an empty module",
      ours / other,
      '',
      `${ours.toFixed(1)} / ${other.toFixed(1)} ms`,
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Milliseconds that one import takes, in a process of its own. */
function timeToImport(path) {
  const code = `const start = performance.now(); await import(${JSON.stringify(path)}); console.log(performance.now() - start);`;
  const { stdout } = spawnSync(process.execPath, ['--input-type=module', '--eval', code], {
    encoding: 'utf8',
  });
  return Number(stdout);
}
