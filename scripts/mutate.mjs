// Changes one line of the library at a time, chosen by a seed, and runs the tests: a change that no test
// notices is one that a test is missing for.
//
//   npm run mutate -- --seed 7 [--count 50] [--only claim/count]
//
// Equivalent changes, which cannot be noticed, are listed with a reason in scripts/equivalent-mutants.json.
import { spawn } from 'node:child_process';
import {
  cpSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const source = 'packages/ekkon/src';
// The core, and the waits.
const folders = [
  ...['value', 'record', 'notation', 'match', 'pattern', 'explain', 'claim', 'plan', 'judge'],
  ...['rule', 'grammar', 'alter', 'since', 'wait'],
];

const { values } = parseArgs({
  options: {
    seed: { type: 'string', default: '7' },
    count: { type: 'string', default: '50' },
    only: { type: 'string' },
    workers: { type: 'string', default: '2' },
  },
});

/** The changes: one place of one line at a time. */
const changes = [
  [/ === /, ' !== '],
  [/ !== /, ' === '],
  [/ && /, ' || '],
  [/ \|\| /, ' && '],
  [/ < /, ' <= '],
  [/ <= /, ' < '],
  [/ > /, ' >= '],
  [/ >= /, ' > '],
  [/ \+ 1\b/, ' + 0'],
  [/ - 1\b/, ' - 0'],
  [/\btrue\b/, 'false'],
  [/\bfalse\b/, 'true'],
  [/\bif \(/, 'if (!'],
  [/\.some\(/, '.every('],
  [/\.every\(/, '.some('],
  [/ \?\? /, ' && '],
  [/return undefined;/, 'throw new Error("changed");'],
  [/'holds'/, "'open'"],
  [/'lost'/, "'open'"],
  [/'fits'/, "'undecided'"],
  [/'fail'/, "'allow'"],
];

/** A generator of numbers from 0 to 1 that gives the same ones for the same seed (mulberry32). */
function random(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/** Every change that there is, file by file and line by line. */
function candidates() {
  return folders.flatMap((folder) =>
    readdirSync(join(root, source, folder), { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'))
      .map((name) => `${folder}/${name}`)
      .filter((file) => values.only === undefined || file.startsWith(values.only))
      .flatMap((file) => changesIn(file)),
  );
}

function changesIn(file) {
  const lines = readFileSync(join(root, source, file), 'utf8').split('\n');
  return lines.flatMap((line, at) => {
    const isCode = !/^\s*(\/\/|\*|\/\*|import|export (type|interface)|readonly|type |\|)/.test(
      line,
    );
    if (!isCode || /`|refuse\(|throw new/.test(line)) return [];
    return changes.flatMap(([from, to]) => {
      if (!from.test(line)) return [];
      const changed = to === 'if (!' ? negated(line) : line.replace(from, to);
      return changed === undefined ? [] : [{ file, at, line, changed }];
    });
  });
}

/** `if (a) b` with its condition turned round; nothing if the condition does not end on the line. */
function negated(line) {
  const start = line.indexOf('if (') + 3;
  let depth = 0;
  for (let at = start; at < line.length; at++) {
    if (line[at] === '(') depth++;
    if (line[at] === ')' && --depth === 0)
      return `${line.slice(0, start)}(!${line.slice(start, at + 1)})${line.slice(at + 1)}`;
  }
  return undefined;
}

function chosen(all, count) {
  const next = random(Number(values.seed));
  const left = [...all];
  return Array.from(
    { length: Math.min(count, left.length) },
    () => left.splice(Math.floor(next() * left.length), 1)[0],
  );
}

const equivalent = JSON.parse(readFileSync(join(root, 'scripts/equivalent-mutants.json'), 'utf8'));
const reasonFor = ({ file, line, changed }) =>
  equivalent.find(
    (each) => each.file === file && each.line === line.trim() && each.changed === changed.trim(),
  )?.reason;

/** A copy of the sources and the tests, for one worker. */
function makeCopy() {
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-mutate-'));
  const skip = /node_modules|\.git$|screenshots|(?<!packages\/ekkon)\/dist/;
  cpSync(root, folder, { recursive: true, filter: (path) => !skip.test(path) });
  symlinkSync(join(root, 'node_modules'), join(folder, 'node_modules'));
  // Only the sources change: the built package, which some tests run, stays as it is.
  writeFileSync(join(folder, 'scripts/build-for-tests.mjs'), 'export function setup() {}\n');
  return folder;
}

/** The tests of the sources and the examples. */
const allTests = [
  'packages/ekkon/src',
  'examples',
  ...['hollow', 'order-table', 'each-code', 'bad-input'].map(
    (name) => `packages/ekkon/tests/${name}`,
  ),
  ...['compiled-classes', 'platform-', 'proxies', 'vue'].map((name) => `clients/src/${name}`),
];

/** The tests that notice most changes of a file soonest: those of its folder. */
const nearTests = (file) => `${source}/${file.split('/')[0]}/`;

/**
 * Runs some tests.
 *
 * @param limit milliseconds after which they are ended: a change can make them endless
 * @returns 'hold', 'fail' or 'endless'
 */
function runTests(folder, limit, tests) {
  return new Promise((resolve) => {
    const run = spawn(
      'node_modules/.bin/vitest',
      ['run', '--bail=1', '--no-color', '--reporter=dot', '--passWithNoTests', ...tests],
      {
        cwd: folder,
        stdio: 'ignore',
        env: { ...process.env, EKKON_RUNS: '250', FROM_SOURCES: 'true' },
      },
    );
    const timer = setTimeout(() => run.kill('SIGKILL'), limit);
    run.on('close', (code, signal) => {
      clearTimeout(timer);
      if (signal === 'SIGKILL') resolve('endless');
      else resolve(code === 0 ? 'hold' : 'fail');
    });
  });
}

async function work(queue, report) {
  const folder = makeCopy();
  try {
    const start = performance.now();
    if ((await runTests(folder, 600_000, allTests)) !== 'hold')
      throw new Error('the tests fail without a change: nothing could be told from them');
    // Long enough that a busy machine is not taken for an endless test.
    const limit = 4 * (performance.now() - start);
    for (let next = queue.shift(); next !== undefined; next = queue.shift()) {
      const path = join(folder, source, next.file);
      const text = readFileSync(path, 'utf8');
      const lines = text.split('\n');
      lines[next.at] = next.changed;
      writeFileSync(path, lines.join('\n'));
      const near = await runTests(folder, limit, [nearTests(next.file)]);
      report(next, near === 'hold' ? await runTests(folder, limit, allTests) : near);
      writeFileSync(path, text);
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const all = candidates();
const queue = chosen(all, Number(values.count));
const survivors = [];
let done = 0;
const total = queue.length;
console.log(`${total} of ${all.length} one-line changes, seed ${values.seed}`);
const report = (change, tests) => {
  done++;
  const isNoticed = tests !== 'hold';
  const reason = isNoticed ? undefined : reasonFor(change);
  if (!isNoticed && reason === undefined) survivors.push(change);
  const unnoticed = reason === undefined ? 'SURVIVED' : 'equivalent';
  const verdict = { fail: 'noticed', endless: 'endless', hold: unnoticed }[tests];
  console.log(
    `${String(done).padStart(3)}/${total} ${verdict.padEnd(10)} ${change.file}:${change.at + 1}`,
  );
  if (!isNoticed)
    console.log(
      `        - ${change.line.trim()}\n        + ${change.changed.trim()}${reason === undefined ? '' : `\n        ${reason}`}`,
    );
};
await Promise.all(Array.from({ length: Number(values.workers) }, () => work(queue, report)));
console.log(`\n${survivors.length} of ${total} survived`);
process.exitCode = survivors.length * 10 > total ? 1 : 0;
