import { spawnSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, rmSync, writeFileSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { printRow } from './measure.mjs';

const sizes = [10_000, 100_000, 1_000_000];
const rounds = 1;
const command = fileURLToPath(new URL('../bin/ekkon.js', import.meta.resolve('ekkon')));

/** Claims on a ledger file of a million entries, against reading and parsing its lines alone. */
export function benchFiles() {
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-bench-'));
  try {
    const [claims, wrong] = ['night.claims', 'wrong.claims'].map((name) => join(folder, name));
    writeFileSync(claims, fifteenClaims);
    writeFileSync(wrong, fifteenClaims + fiveThatFail);
    for (const size of sizes) {
      const file = join(folder, `${size}.jsonl`);
      writeLedger(file, size);
      const parse = best(() => measured(['--input-type=module', '--eval', readAlone, file]));
      const ways = {
        'check, 15 claims that hold': ['check', file, '--claims', claims],
        'check, 5 more that fail': ['check', file, '--claims', wrong],
        'check, --rules strict': ['check', file, '--claims', claims, '--rules', 'strict'],
        show: ['show', file],
        'show --limit 20': ['show', file, '--limit', '20'],
        'convert --to csv': ['convert', file, '--to', 'csv', '-o', join(folder, 'out.csv')],
        // Longer ones are refused.
        ...(size > 300_000 ? {} : { 'compare with itself': ['compare', file, file] }),
        'draw a page': ['draw', file, '--claims', claims, '-o', join(folder, 'out.html')],
      };
      for (const [what, args] of Object.entries(ways)) {
        const result = best(() => measured([command, ...args]));
        const aim = aims[what] ?? '';
        printRow(
          `${size.toLocaleString('en')} entries: ${what} / parse the lines`,
          result.seconds / parse.seconds,
          aim,
          `${result.seconds.toFixed(1)} / ${parse.seconds.toFixed(1)} s, at most ${result.megabytes} / ${parse.megabytes} MB`,
        );
      }
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** At most so many times the cost of reading and parsing. */
const aims = { 'check, 15 claims that hold': '≤ 2.5', 'check, 5 more that fail': '≤ 4' };

const fifteenClaims = `
once dome.open
once dome.close
times 1..* camera.expose
times 1..* camera.expose(partial({ filter: "red" }))
never camera.expose({ seconds: 99 })
never alarm.sound("fire")
times 1..* archive.store
camera.expose only after dome.open
dome.open leads to dome.close
archive.store only after camera.expose
in flight 0..1 archive.store
in turn dome.open › 1..* (camera.expose › archive.store) › dome.close
after dome.open until dome.close: times 1..* camera.expose
before dome.open: never camera.expose
times 1..* fulfilled archive.store with "stored"
`;

const fiveThatFail = `
once camera.expose(partial({ filter: "green" }))
never archive.store
dome.close leads to camera.expose
in turn dome.open › 1..* (camera.expose › archive.store) › alarm.sound
nothing else on camera, dome, archive, alarm
`;

/** Reads a file line by line and parses each, in a process of its own. */
const readAlone = `
  import { createReadStream } from 'node:fs';
  import { createInterface } from 'node:readline';
  let sum = 0;
  for await (const line of createInterface({ input: createReadStream(process.argv[1]) })) sum += Object.keys(JSON.parse(line)).length;
  console.error(process.resourceUsage().maxRSS);
`;

function writeLedger(path, size) {
  const file = openSync(path, 'w');
  let tick = 0;
  let id = 0;
  let buffer = '';
  const write = (line) => {
    buffer += `${JSON.stringify(line)}\n`;
    if (buffer.length > 1 << 20) flush();
  };
  const flush = () => {
    writeSync(file, buffer);
    buffer = '';
  };
  const call = (double, member, args, state, value) => {
    id++;
    write({
      tick: ++tick,
      begins: id,
      label: `${double}.${member}`,
      of: [double, member],
      kind: 'call',
      at: 1_700_000_000_000 + id,
      args,
      site: ['src/night-run.ts', 48, 3],
    });
    write({ tick: ++tick, ends: id, at: 1_700_000_000_000 + id, state, value });
  };
  write({ ekkon: 'ledger', version: 1, name: 'a long night', opened: 1_700_000_000_000 });
  for (const double of ['dome', 'camera', 'archive', 'alarm']) write({ double, is: 'stand-in' });
  call('dome', 'open', [], 'returned', { $: 'undefined' });
  call('alarm', 'sound', ['test'], 'returned', { $: 'undefined' });
  while (id < size - 2) {
    call(
      'camera',
      'expose',
      [{ seconds: id % 60, filter: id % 4 < 2 ? 'red' : 'clear', at: { ra: 83.6, dec: 22 } }],
      'fulfilled',
      { id: `frame-${id}` },
    );
    call('archive', 'store', [{ id: `frame-${id}`, seconds: 30 }], 'fulfilled', 'stored');
  }
  call('dome', 'close', [], 'returned', { $: 'undefined' });
  write({ closes: 'ledger', entries: id });
  flush();
  closeSync(file);
}

/** Seconds and megabytes of a process. */
function measured(args) {
  const start = performance.now();
  const { status, stderr, stdout } = spawnSync(process.execPath, ['--import', peak, ...args], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  // A check whose claims do not hold ends with 1.
  const mayFail = args.some((arg) => arg.endsWith('wrong.claims') || arg === 'strict');
  if (status !== 0 && !(status === 1 && mayFail))
    throw new Error(`${args.join(' ')}: ${stdout.slice(0, 500)}${stderr}`);
  const kilobytes = Number(stderr.trim().split('\n').at(-1));
  return { seconds: (performance.now() - start) / 1e3, megabytes: Math.round(kilobytes / 1024) };
}

/** Prints the most memory a process had as it ends. */
const peak = `data:text/javascript,process.on('exit', () => console.error(process.resourceUsage().maxRSS))`;

function best(run) {
  const all = Array.from({ length: rounds }, run);
  return {
    seconds: Math.min(...all.map(({ seconds }) => seconds)),
    megabytes: Math.min(...all.map(({ megabytes }) => megabytes)),
  };
}
