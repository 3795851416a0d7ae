import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { parse } from 'acorn';
import { seams } from 'ekkon/vite';
import { compareTimes, printRow } from './measure.mjs';

const calls = 20_000_000;

/** Preparing modules of real packages, against reading their syntax trees; and calling their exports. */
export async function benchModules() {
  const plugin = seams();
  plugin.configResolved({ mode: 'test', plugins: [], root: '/' });
  const prepare = (code) => plugin.transform(code, '/src/module.js')?.code ?? code;
  const modules = realModules();
  const result = compareTimes(
    () => modules.map(prepare),
    () => modules.map((code) => parse(code, { ecmaVersion: 'latest', sourceType: 'module' })),
  );
  const [ours, other] = [result.ours, result.other].map((ms) => ms / modules.length);
  printRow(
    `prepare one of ${modules.length} real modules / read its syntax tree`,
    result.ratio,
    '',
    `${ours.toFixed(3)} / ${other.toFixed(3)} ms each (aim 0.3 ms)`,
  );

  const folder = mkdtempSync(join(tmpdir(), 'ekkon-modules-'));
  try {
    const code =
      'let sum = 0;\nexport const add = (minutes) => { sum += minutes; };\nexport const total = () => sum;\n';
    const [prepared, plain] = await Promise.all(
      [prepare(code), code].map(async (text, at) => {
        const file = join(folder, `module${at}.mjs`);
        const user = join(folder, `user${at}.mjs`);
        writeFileSync(file, text);
        writeFileSync(
          user,
          `import { add } from ${JSON.stringify(pathToFileURL(file).href)};\nexport const run = (times) => { for (let at = 0; at < times; at++) add(at & 7); };\n`,
        );
        return (await import(pathToFileURL(user).href)).run;
      }),
    );
    const times = compareTimes(
      () => prepared(calls),
      () => plain(calls),
    );
    const [nanoseconds, bare] = [times.ours, times.other].map((ms) => (ms / calls) * 1e6);
    printRow(
      'call an export of a prepared module / of one that is not',
      times.ratio,
      '',
      `${nanoseconds.toFixed(2)} / ${bare.toFixed(2)} ns each (aim 2 ns more)`,
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The texts of modules of packages that are installed. */
function realModules() {
  return ['date-fns', 'rxjs', 'luxon', 'immer']
    .map((name) => fileURLToPath(import.meta.resolve(`${name}/package.json`)))
    .flatMap((file) =>
      readdirSync(dirname(file), { recursive: true, encoding: 'utf8' }).map((name) =>
        join(dirname(file), name),
      ),
    )
    .filter((file) => /\.m?js$/.test(file))
    .map((file) => readFileSync(file, 'utf8'))
    .filter((code) => /^export\b/m.test(code))
    .slice(0, 1_000);
}
