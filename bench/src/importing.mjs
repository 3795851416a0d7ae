import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { builtinModules } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { build } from 'vite';
import { printRow } from './measure.mjs';

const starts = 15;

/** The imports of tests, and the further imports of the runners' entries. */
const entries = {
  ekkon: 70,
  'ekkon/file': undefined,
  'ekkon/claims': undefined,
  'ekkon/weigh': undefined,
  'ekkon/requests': undefined,
  'ekkon/server': undefined,
  'ekkon/node': undefined,
  'ekkon/seams': undefined,
};

/** Well-known libraries, none of them for this job. */
const others = ['zod', 'rxjs', 'immer'];

/** The cost of importing each entry for a process and a bundle, beside an empty module and well-known libraries. */
export async function benchImport() {
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-import-'));
  try {
    const empty = join(folder, 'empty.mjs');
    writeFileSync(empty, 'export {};\n');
    const paths = [...Object.keys(entries), ...others].map((name) => [
      name,
      fileURLToPath(import.meta.resolve(name)),
    ]);
    const times = new Map([['', []], ...paths.map(([name]) => [name, []])]);
    for (let round = 0; round < starts; round++) {
      times.get('').push(timeToImport(empty));
      for (const [name, path] of paths) times.get(name).push(timeToImport(path));
    }
    const none = Math.min(...times.get(''));
    for (const [name, path] of paths) {
      const least = Math.min(...times.get(name));
      const size = await sizeOf(path);
      const aim = name === 'ekkon' ? '≤ 3' : '';
      const most = entries[name] === undefined ? '' : ` (aim ${entries[name]} kB)`;
      printRow(
        `import '${name}' / an empty module`,
        least / none,
        aim,
        `${least.toFixed(1)} / ${none.toFixed(1)} ms; ${size.toFixed(1)} kB minified, gzip${most}`,
      );
    }
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

/** Kilobytes of a module with everything that it imports at once, minified and packed. */
async function sizeOf(path) {
  const output = await build({
    configFile: false,
    logLevel: 'silent',
    build: {
      write: false,
      minify: true,
      rolldownOptions: {
        input: path,
        preserveEntrySignatures: 'strict',
        external: [/^node:/, ...builtinModules],
      },
    },
  });
  const chunks = [output].flat().flatMap(({ output: parts }) => parts);
  const atOnce = new Set();
  const add = (name) => {
    const chunk = chunks.find(({ fileName }) => fileName === name);
    if (chunk === undefined || atOnce.has(chunk)) return;
    atOnce.add(chunk);
    for (const imported of chunk.imports ?? []) add(imported);
  };
  for (const { fileName, isEntry } of chunks) if (isEntry) add(fileName);
  const code = [...atOnce].map(({ code: text }) => text ?? '').join('\n');
  return gzipSync(code).length / 1_000;
}
