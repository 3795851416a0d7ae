import { spawn, spawnSync } from 'node:child_process';
import { once as onceOf } from 'node:events';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gunzipSync, gzipSync } from 'node:zlib';
import { call, check, type Ledger, type LedgerOptions, once, openLedger, summary, withLedger } from 'ekkon';
import { afterAll, describe, expect, test } from 'vitest';
import { innerRun } from './inner-run.ts';

const home = mkdtempSync(join(tmpdir(), 'ekkon-last-pass-'));
afterAll(() => rmSync(home, { recursive: true }));

const given = (to: number) => `was given -1, and ${to} when this test last passed`;

describe('Vitest’s fixture', () => {
  const env = { EKKON_LAST_PASS: join(home, 'vitest') };
  const passed = innerRun('last-pass.case.ts', env);
  const { tests } = innerRun('last-pass.case.ts', { ...env, FAULT: 'on' });
  const linesOf = (title: string) => tests.filter((each) => each.fullName === title).map(({ failureMessages }) => failureMessages[0]);

  test('keeps a record for each test that passed, and touches none that fails', () => {
    expect(passed.tests.map(({ status }) => status)).toEqual(passed.tests.map(() => 'passed'));
    // Two tests have one name; one has a second ledger.
    expect(readdirSync(env.EKKON_LAST_PASS).filter((name) => name.endsWith('.gz'))).toHaveLength(tests.length - 2 + 1);
  });

  test.each([
    ['a night', given(5)],
    ['turns to 7', given(7)],
    ['turns to 8', given(8)],
    ['at one time one', given(1)],
    ['at one time two', given(2)],
    ['a group a night', given(6)],
    ['two ledgers', `#2 cover.turn ${given(9)}`],
    ['a retry', given(5)],
    ['is told at close', 'dome.turn is missing after #1 dome.open, and came there'],
  ])('%s: its first line tells what changed', (title, line) => {
    expect(linesOf(title)).toEqual([expect.stringContaining(line)]);
  });

  test('leaves alone what has no record of its own: tests of one name, and one that is renamed', () => {
    for (const line of [...linesOf('twins'), ...linesOf('named on')]) expect(line).not.toMatch(/last passed/);
  });

  test('an error of the test’s own stays first, and what changed stands below it', () => {
    expect(linesOf('fails on an error of its own')).toEqual([
      expect.stringMatching(
        /^RangeError: too dark\n\nsince it last passed \(.*, 2 calls\): nothing changed up to where it stopped\n {2}it stopped after #1 dome\.open; 1 call came later then\n/,
      ),
    ]);
  });
});

test('Node’s own runner: what changed is told of each test, by its whole name', () => {
  const file = fileURLToPath(new URL('last-pass/last-pass.case.mjs', import.meta.url));
  const { NODE_OPTIONS: _, ...own } = process.env;
  const run = (fault: string) =>
    spawnSync(process.execPath, ['--test', '--test-reporter=spec', file], {
      encoding: 'utf8',
      env: { ...own, EKKON_LAST_PASS: join(home, 'node'), FAULT: fault },
    }).stdout;
  expect(run('')).toMatch(/^ℹ fail 0$/m);
  const said = run('on');
  for (const line of [`#2 dome.turn ${given(5)}`, `#2 dome.turn ${given(6)}`, `#2 cover.turn ${given(9)}`]) expect(said).toContain(line);
  expect(said).toMatch(/and then: |since it last passed \(.*, 1 call\): 1 change in 1 call\n\s+first {3}#1 {3}dome\.turn\(2\) {3}\[0\] was 1, is 2/);
  expect(said).not.toMatch(/and [12] when this test last passed/);
  // Frames of Ekkon lead nobody anywhere.
  expect(said).toMatch(/^ +at .*last-pass\.case\.mjs:\d+/m);
  expect(said).not.toMatch(/^ +at .*ekkon\/dist\//m);
});

type Dome = { open(): void; turn(to: number): void };

/** Runs a test with a store: the error that it fails with, if it does. */
async function run(options: LedgerOptions, to: number, body?: (ledger: Ledger) => void): Promise<string | undefined> {
  const failed = await withLedger({ name: 'night', ...options }, (ledger) => {
    const dome = ledger.standIn<Dome>('dome');
    dome.open();
    dome.turn(to);
    body?.(ledger);
    check(once(call(dome.turn, [5])));
  }).then(
    () => undefined,
    (error: Error) => error.message,
  );
  return failed?.split('\n')[0];
}

/** Runs something and gives what it wrote to standard error. */
async function heard(work: () => Promise<unknown>): Promise<string> {
  const { write } = process.stderr;
  let text = '';
  process.stderr.write = ((part: string) => {
    text += part;
    return true;
  }) as typeof write;
  try {
    await work();
  } finally {
    process.stderr.write = write;
  }
  return text;
}

const plain = /^#2 dome\.turn \(.*\): \[0\] expected 5, received 6$/;

describe('a folder', () => {
  const folderOf = (name: string) => join(home, name);
  const fileIn = (folder: string) => join(folder, readdirSync(folder).find((name) => name.endsWith('.gz')) ?? '');

  test('has one compressed file for each test, which no failure changes', async () => {
    const folder = folderOf('plain');
    await run({ lastPass: folder }, 5);
    const kept = readFileSync(fileIn(folder));
    expect(gunzipSync(kept).toString()).toMatch(/^\{"ekkon":"last pass","version":1,"test":"night","passedAt":\d+,/);
    expect(gunzipSync(kept).toString()).not.toContain(process.cwd());
    // A name may be used once in a process: by another folder's store it is found again.
    expect(await run({ lastPass: `${folder}/` }, 6)).toContain(`${given(5).replace('-1', '6')}`);
    expect(readFileSync(fileIn(folder))).toEqual(kept);
  });

  test.each([
    ['a cut file', (file: string) => writeFileSync(file, readFileSync(file).subarray(0, 60)), /cannot be read/],
    ['a file of an older version', (file: string) => writeFileSync(file, gzipSync('{"ekkon":"last pass","version":0}\n')), /^$/],
    ['a file of something else', (file: string) => writeFileSync(file, gzipSync('stars')), /^$/],
  ])('%s is left alone', async (name, damage, warning) => {
    const folder = folderOf(name);
    await run({ lastPass: folder }, 5);
    damage(fileIn(folder));
    expect(await heard(async () => expect(await run({ lastPass: `${folder}/` }, 6)).toMatch(plain))).toMatch(warning);
    expect(await run({ lastPass: `${folder}//` }, 5)).toBeUndefined();
    expect(await run({ lastPass: `${folder}///` }, 6)).toContain('when this test last passed');
  });

  test('that cannot be written is one warning, and no failure', async () => {
    const file = folderOf('a file');
    writeFileSync(file, '');
    const said = await heard(async () => {
      expect(await run({ lastPass: file }, 5)).toBeUndefined();
      expect(await run({ lastPass: file, name: 'another night' }, 5)).toBeUndefined();
    });
    expect(said).toMatch(/^ekkon: lastPass: records cannot be kept: Error: (EEXIST|ENOTDIR).*\n$/);
  });

  test('loses the files that no test has touched for a month, and no others', async () => {
    const folder = folderOf('old');
    await run({ lastPass: folder, name: 'old' }, 5);
    await run({ lastPass: folder, name: 'new' }, 5);
    const old = new Date(Date.now() - 31 * 24 * 60 * 60 * 1_000);
    const [first = ''] = readdirSync(folder).filter((name) => name.endsWith('.gz'));
    writeFileSync(join(folder, 'own.txt'), '');
    for (const name of [first, 'own.txt', '.cleaned']) utimesSync(join(folder, name), old, old);
    await run({ lastPass: `${folder}/`, name: 'another' }, 5);
    expect(existsSync(join(folder, first))).toBe(false);
    expect(readdirSync(folder)).toHaveLength(4);
  });

  test('is whole though processes write one test at the same time', async () => {
    const folder = folderOf('many');
    const code = `import { withLedger } from 'ekkon';
      for (let round = 0; round < 100; round++)
        await withLedger({ name: 'night', lastPass: process.argv[1] + '/'.repeat(round) }, (ledger) => {
          for (let to = 0; to < 50; to++) ledger.callable('turn')(to);
        });`;
    const runs = [1, 2, 3].map(() =>
      spawn(process.execPath, ['--input-type=module', '-e', code, folder], { cwd: fileURLToPath(new URL('..', import.meta.url)) }),
    );
    const codes = await Promise.all(runs.map((each) => onceOf(each, 'exit')));
    expect(codes.map(([status]) => status)).toEqual([0, 0, 0]);
    expect(readdirSync(folder).filter((name) => name !== '.cleaned')).toHaveLength(1);
    const kept = gunzipSync(readFileSync(fileIn(folder))).toString();
    expect(kept.split('\n')).toHaveLength(1 + 1 + 50 + 100 + 1);
  });
});

test('a store of one’s own is given what it kept; what it throws is a warning', async () => {
  const texts = new Map<string, string>();
  const store = () => ({ read: async (name: string) => texts.get(name), write: async (name: string, text: string) => void texts.set(name, text) });
  await run({ lastPass: store() }, 5);
  expect([...texts.keys()]).toEqual(['night']);
  expect(await run({ lastPass: store() }, 6)).toContain('when this test last passed');
  const broken = { read: () => Promise.reject(new Error('no stars')), write: () => undefined };
  expect(await heard(async () => expect(await run({ lastPass: broken }, 6)).toMatch(plain))).toBe(
    'ekkon: lastPass: what was kept of "night" cannot be read: Error: no stars\n',
  );
});

test('a name that two tests have is left alone from then on', async () => {
  const texts = new Map<string, string>();
  const store = () => ({ read: (name: string) => texts.get(name), write: (name: string, text: string) => void texts.set(name, text) });
  const one = store();
  await run({ lastPass: one }, 5);
  await run({ lastPass: one }, 5, (ledger) => expect(summary(ledger)).toContain('not kept as that of the last pass: several tests have this name'));
  expect(await run({ lastPass: store() }, 6)).toMatch(plain);
});

test('a record that is too large is not kept, and the summary says so', async () => {
  let written = 0;
  let ledger: Ledger | undefined;
  const store = { read: () => undefined, write: () => void written++ };
  await run({ lastPass: store }, 5, (own) => {
    ledger = own;
    const turn = own.callable<(to: number) => void>('turn');
    for (let to = 0; to < 5_000; to++) turn(to);
  });
  expect(written).toBe(0);
  expect(summary(ledger as Ledger)).toContain('the record is not kept as that of the last pass: it is larger than 5,000 calls or 1 MB');
});

test('is refused where nothing tells whether the test passed, or by which name', async () => {
  expect(() => openLedger({ lastPass: 'passes' })).toThrow(
    /^openLedger\(\): lastPass is for the fixtures .* Write withLedger\(\{ name: 'first light'/,
  );
  await expect(withLedger({ lastPass: 'passes' }, () => {})).rejects.toThrow(/^withLedger\(\): lastPass needs a name/);
  for (const lastPass of ['', 5, {}, { read: () => undefined }])
    await expect(withLedger({ name: 'night', lastPass: lastPass as never }, () => {})).rejects.toThrow(
      /^lastPass is a folder or a store, and was given as/,
    );
});
