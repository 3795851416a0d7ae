import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { call, openLedger } from 'ekkon';
import { loadLedger, saveLedger } from 'ekkon/file';
import { faults, rainFaults } from 'observatory';
import { afterAll, describe, expect, test } from 'vitest';
import { ekkon } from './command.ts';

const folder = mkdtempSync(join(tmpdir(), 'ekkon-'));
afterAll(() => rmSync(folder, { recursive: true }));
const file = join(folder, 'night.jsonl');

describe('ekkon demo', () => {
  test('shows a night on which all claims hold, and keeps it where asked to', () => {
    const { code, out, err } = ekkon('demo', '--save', file);
    expect([code, err]).toEqual([0, '']);
    expect(out).toContain('#6   11–12  mount.slewTo(83.6, 22)');
    expect(out).toMatch(/examples\/observatory\/src\/night-run\.ts:\d+/);
    expect(out).toContain('all 15 claims hold');
  });

  test('shows colours as such, whichever number tells them from what is recorded', () => {
    const largest = `
      import crypto from 'node:crypto';
      import { syncBuiltinESMExports } from 'node:module';
      crypto.randomInt = (most) => most - 1;
      syncBuiltinESMExports();
    `;
    const { out } = ekkon.colouredAfter(largest, 'demo');
    expect([out.includes('\u001b[2m#1\u001b[22m'), out.includes('u001b')]).toEqual([true, false]);
  });

  test('puts no colours into a pipe, on a build machine neither', () => {
    expect(ekkon.given('', { CI: '1', NO_COLOR: undefined, FORCE_COLOR: undefined }, 'demo').out).not.toContain('\u001b');
  });

  test('lays a table out alike with colours and without, and marks what is at fault', () => {
    const plain = ekkon('demo', '--fault', 'declination-lost').out;
    // biome-ignore lint/suspicious/noControlCharactersInRegex: what a colour begins with.
    const coloured = ekkon.coloured('demo', '--fault', 'declination-lost').out.replaceAll(/\u001b\[\d+m/g, '');
    const table = (text: string) => text.split('\n').filter((line) => /^#\d+ .*\d+–\d+/.test(line));
    expect(table(coloured)).toEqual(table(plain));
    const marked = table(plain).filter((line) => line.includes('◂'));
    expect(marked.map((line) => line.split(' ')[0])).toEqual(['#7', '#11']);
  });

  test('lists its faults, and each makes a report and exit code 1', () => {
    const { out: listed } = ekkon('demo', '--list');
    for (const { name, mistake } of [...faults, ...rainFaults]) expect(listed).toMatch(new RegExp(`^${name} +${mistake}$`, 'm'));
    for (const { name } of faults) {
      const { code, out, err } = ekkon('demo', '--fault', name);
      expect([name, code, err]).toEqual([name, 1, '']);
      expect(out).toMatch(/\d of 15 claims do(es)? not hold/);
    }
  });

  test('shows a night on which it rains, its sensor as a stream, and waits that time out', () => {
    const { code, out } = ekkon('demo', '--rain');
    expect([code, out]).toEqual([0, expect.stringMatching(/item rain with 0\.4\n[\s\S]*all 3 claims hold[\s\S]*items of rain are \[0, 0, 0\.4\]/)]);
    expect(ekkon('demo', '--rain', '--fault', 'park-not-awaited').out).toMatch(
      /#6 dome\.close \(.*\) came too early: expected after #5 mount\.park was fulfilled/,
    );
    const late = ekkon('demo', '--rain', '--fault', 'drizzle-ignored');
    expect([late.code, late.out]).toEqual([
      1,
      expect.stringMatching(
        /item rain with 0\.4[\s\S]*\n3 calls are missing after #3 rain that came [^\n]*; timed out after \d+ ms\n[\s\S]*\nmount\.park was never called\n[\s\S]*the last event is #3 rain, \d+ ms before/,
      ),
    ]);
    expect(ekkon('demo', '--rain', '--fault', 'opens-twice')).toMatchObject({
      code: 2,
      err: expect.stringContaining('these are: park-not-awaited, drizzle-ignored'),
    });
  });
});

describe('ekkon show', () => {
  test('shows the entries of a file: all, of a member or a double, a limited number', () => {
    expect(ekkon('show', file).out).toMatch(/^ledger "a dry night" · 15 entries\n\n#1 /);
    expect(ekkon('show', file, '--member', 'camera').out.match(/^#\d+/gm)).toEqual(['#4', '#7', '#11']);
    expect(ekkon('show', file, '--member', 'camera.expose').out.match(/^#\d+/gm)).toEqual(['#7', '#11']);
    expect(ekkon('show', file, '--limit', '2').out).toMatch(/#2 .*\n… 13 more\n$/);
  });

  test('gives the same as JSON', () => {
    const entries = JSON.parse(ekkon('show', file, '--json', '--member', 'mount').out);
    expect(entries).toMatchObject([
      { id: 6, label: 'mount.slewTo', args: [83.6, 22], began: 11, ended: 12, receiver: '[stand-in mount]' },
      { id: 10, outcome: { state: 'fulfilled' } },
      { id: 13, label: 'mount.park', args: [] },
    ]);
  });

  test('shows a file that was cut off up to the cut, and says so', () => {
    const cut = join(folder, 'cut.jsonl');
    writeFileSync(cut, readFileSync(file, 'utf8').slice(0, 1_150));
    const { code, out, err } = ekkon('show', cut);
    expect([code, out.match(/^#\d+/gm)?.length]).toEqual([0, 3]);
    expect(err).toMatch(/cut\.jsonl is cut off; shown up to there/);
  });
});

const wrong: readonly [string, readonly string[], RegExp][] = [
  ['an unknown command', ['shwo'], /^ekkon: there is no command shwo; did you mean show\? \(see ekkon --help\)$/m],
  ['an unknown option', ['demo', '--falt'], /^ekkon: there is no option --falt; did you mean --fault\?/],
  ['an unknown fault', ['demo', '--fault', 'x'], /there is no such fault; these are: dome-left-open, /],
  ['a fault of another night', ['demo', '--fault', 'park-not-awaited'], /demo --fault park-not-awaited needs --rain/],
  ['no file', ['show'], /^ekkon: <file> is missing/],
  ['a file that is not there', ['show', join(folder, 'nowhere')], /nowhere: there is no such file/],
  ['a folder', ['show', folder], /: this is a folder/],
  ['a file that is not a ledger', ['show', import.meta.filename], /command-line\.test\.ts: this is not a ledger file/],
  ['a member that is mistyped', ['show', file, '--member', 'camera.expsoe'], /goes by that name; near it is camera\.expose/],
  ['a limit that is none', ['show', file, '--limit', '0'], /show --limit 0: must be a whole number of 1 or more/],
];
test.each(wrong)('%s ends in one clear line and exit code 2', (_, args, message) => {
  const { code, out, err } = ekkon(...args);
  expect([code, out]).toEqual([2, '']);
  expect(err).toMatch(message);
  expect(err).not.toMatch(/^\s+at /m);
});

test('a fault of its own is told as one, and is not a result', () => {
  const breaks = 'data:text/javascript,process.stdout.write = () => { throw new Error("broken"); }';
  const cli = fileURLToPath(new URL('../dist/cli.js', import.meta.url));
  const { status, stderr } = spawnSync(process.execPath, ['--import', breaks, cli, 'show', file], { encoding: 'utf8' });
  expect([status, stderr]).toEqual([2, expect.stringMatching(/^ekkon: this is a fault in Ekkon itself; .*\nError: broken\n {4}at /)]);
});

test('help ends with 0', () => {
  expect([ekkon('--help').code, ekkon('show', '--help').code, ekkon('--version').code]).toEqual([0, 0, 0]);
});

test('a ledger saved by a test loads with its name, its entries and call sites', () => {
  const ledger = openLedger({ name: 'first light' });
  const done = ledger.callable<(frame: { id: string }) => void>('done');
  done({ id: 'frame-1' });
  saveLedger(ledger, file);
  const { name, entries, truncated } = loadLedger(file);
  expect([name, truncated]).toEqual(['first light', false]);
  const [kept] = entries();
  const [live] = ledger.entries(call(done));
  const { liveArgs, ...there } = live ?? {};
  expect(liveArgs).toEqual([{ id: 'frame-1' }]);
  const site = { ...live?.site, file: 'packages/ekkon/tests/command-line.test.ts' };
  expect(kept).toEqual({ ...there, site, sites: [site] });
});

describe('ekkon completion', () => {
  const bash = (line: string) => {
    const words = line.split(' ');
    const script = `eval "$1"; COMP_WORDS=(${words.map((word) => `'${word}'`).join(' ')}); COMP_CWORD=${words.length - 1}; _ekkon; printf '%s\\n' "\${COMPREPLY[@]}"`;
    return spawnSync('bash', ['-c', script, 'bash', ekkon('completion', 'bash').out], { encoding: 'utf8' })
      .stdout.split('\n')
      .slice(0, -1);
  };

  test.each([
    ['ekkon c', ['check', 'compare', 'convert', 'completion']],
    ['ekkon check --form', ['--format']],
    ['ekkon check a.jsonl --format j', ['json', 'junit']],
    ['ekkon completion f', ['fish']],
    [`ekkon show ${folder}/nig`, [file]],
  ])('completes %s', (line, expected) => {
    writeFileSync(file, '');
    expect(bash(line)).toEqual(expected);
  });

  test('tells fish each command with its options, and zsh what bash is told', () => {
    const { out } = ekkon('completion', 'fish');
    expect(out).toMatch(/^complete -c ekkon -n '__fish_seen_subcommand_from check' -l format -x -a 'text json junit tap' -d /m);
    expect(out).toMatch(/^complete -c ekkon -n __fish_use_subcommand -f -a show -d 'show the calls of a ledger file'$/m);
    expect(ekkon('completion', 'zsh').out).toMatch(/^autoload[\s\S]*\n_ekkon\(\) \{/);
    expect(ekkon('completion', 'csh')).toMatchObject({ code: 2, err: expect.stringContaining('bash, zsh, fish') });
  });
});
