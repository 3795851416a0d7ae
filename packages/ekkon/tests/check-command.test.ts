import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { openLedger } from 'ekkon';
import { loadLedger, saveLedger } from 'ekkon/file';
import fc from 'fast-check';
import { JSDOM } from 'jsdom';
import { describe, expect, test } from 'vitest';
import { judgeFile } from '../src/cli/judge-file.ts';
import { levelsIn } from '../src/rule/rules.ts';
import { ekkon } from './command.ts';
import { forAll } from './for-all.ts';
import { cli, savedNight } from './saved-night.ts';

const { folder, at, night, faulty, claims } = savedNight();

describe('ekkon check', () => {
  test.each([[[night]], [[night, faulty, '--merge']]])('says of what holds where a name is likely mistyped: %j', (ledgers) => {
    const mistyped = at('mistyped.claims');
    writeFileSync(mistyped, 'never dome.opne\nnever dome.turn\nnever alarm.snd\nafter dome.opens: never alarm.sound\ntimes 1..* weather.rain\n');
    const { err } = ekkon('check', ...ledgers, '--claims', mistyped);
    expect(err.replaceAll(/^ekkon: .*\.jsonl: /gm, '')).toBe(
      'never dome.opne holds, and nothing of dome.opne was recorded; did you mean dome.open?\n',
    );
  });

  test('holds claims of a file against ledgers, and names the culprit', () => {
    expect(ekkon('check', night, '--claims', claims)).toEqual({ code: 0, err: '', out: 'all 5 claims hold · ledger "a dry night"\n' });
    const { code, out } = ekkon('check', night, faulty, '--claims', claims);
    expect([code, out]).toEqual([
      1,
      expect.stringMatching(/all 5 claims hold[\s\S]*1 of 5 claims does not hold · ledger "a dry night, declination-lost"/),
    ]);
    expect(out).toMatch(/\[0\]\.at\.dec +expected 22 +received /);
    expect(out).toContain(`claim at ${claims}:6`);
  });

  test('tells it as data, as JUnit and as TAP', () => {
    const [judged] = JSON.parse(ekkon('check', faulty, '--claims', claims, '--format', 'json').out);
    expect(judged).toMatchObject({
      holds: false,
      file: faulty,
      findings: [{ code: 'missingCall', differences: [{ path: [0, 'at', 'dec'], expected: '22', received: '0' }] }],
    });
    const { window } = new JSDOM('');
    const xml = new window.DOMParser().parseFromString(ekkon('check', night, faulty, '--claims', claims, '--format', 'junit').out, 'text/xml');
    const suites = [...xml.querySelectorAll('testsuite')].map((suite) => `${suite.getAttribute('failures')} of ${suite.getAttribute('tests')}`);
    const type = xml.querySelector('failure')?.getAttribute('type');
    expect([xml.querySelector('parsererror'), suites, type]).toEqual([null, ['0 of 5', '1 of 5'], 'missingCall']);
    const place = (element: Element | null) => ['file', 'line', 'time'].map((name) => element?.getAttribute(name));
    expect([place(xml.querySelector('testcase:has(failure)')), xml.documentElement.getAttribute('tests')]).toEqual([[claims, '6', '0'], '10']);
    const tap = ekkon('check', faulty, '--claims', claims, '--format', 'tap').out.split('\n');
    const results = tap.filter((line) => /^(not )?ok /.test(line));
    expect([tap[0], tap[1], results.length, results[3]?.slice(0, 10)]).toEqual(['TAP version 14', '1..5', 5, 'not ok 4 -']);
  });

  test('reads what is compressed, or can be read once only, and refuses what is compressed and cut off', () => {
    const whole = gzipSync(readFileSync(night));
    writeFileSync(at('night.gz'), whole);
    writeFileSync(at('cut.gz'), whole.subarray(0, whole.length - 40));
    writeFileSync(at('damaged.gz'), whole.with(60, (whole[60] ?? 0) ^ 255));
    spawnSync('mkfifo', [at('pipe')]);
    const copies = at('copies');
    mkdirSync(copies);
    const env = { ...process.env, TMPDIR: copies };
    const run = (...args: readonly string[]) => ekkon.given('', env, ...args);
    const through = (from: string, command: string) => {
      const { stdout, stderr } = spawnSync('sh', ['-c', `cat ${from} > ${at('pipe')} & ${command}; wait`], { encoding: 'utf8', env });
      return stdout + stderr;
    };
    const check = `${process.execPath} ${cli} check`;
    for (const said of [
      run('check', at('night.gz'), '--claims', claims).out,
      through(night, `${check} ${at('pipe')} --claims ${claims}`),
      through(at('night.gz'), `${check} ${at('pipe')} --claims ${claims}`),
      through(at('night.gz'), `${check} - --claims ${claims} < ${at('pipe')}`),
      through(claims, `${check} ${night} --claims ${at('pipe')}`),
    ])
      expect(said).toBe('all 5 claims hold · ledger "a dry night"\n');
    expect(run('check', at('cut.gz'), '--claims', claims)).toMatchObject({
      code: 2,
      err: expect.stringMatching(/cut\.gz: its compressed data is cut off\n$/),
    });
    expect(run('show', at('damaged.gz'))).toMatchObject({ code: 2, err: expect.stringMatching(/damaged\.gz: its compressed data is damaged\n$/) });
    expect(readdirSync(copies)).toEqual([]);
  });

  test('reads standard input, applies rules, and judges a stretch by marks', () => {
    const ledger = openLedger({ name: 'marks', rules: 'loose' });
    const { dome } = ledger.standIns<{ dome: { open(): void; close(): void } }>();
    dome.open();
    ledger.mark('dusk');
    dome.close();
    saveLedger(ledger, at('marks.jsonl'));
    writeFileSync(at('marks.claims'), 'after mark "dusk": once dome.close\nafter mark "dusk": never dome.open\n');
    const run = (...args: readonly string[]) =>
      spawnSync(process.execPath, [cli, 'check', '-', '--claims', at('marks.claims'), ...args], {
        input: readFileSync(at('marks.jsonl')),
        encoding: 'utf8',
      });
    expect(run().stdout).toContain('all 2 claims hold');
    expect(ekkon('show', at('marks.jsonl')).out).toMatch(/^#1 .*dome\.open\(\).*\n {4}\d+ +── mark "dusk" ──\n#2 .*dome\.close/m);
    expect([run('--rules', 'strict').status, run('--rules', 'strict').stdout]).toEqual([1, expect.stringMatching(/unclaimedCall/)]);
  });

  test('says of a record that memory can hold what it says with it all in memory', () => {
    const ledger = openLedger({ name: 'nights', rules: 'loose', callSites: 0 });
    const { dome, camera } = ledger.standIns<{ dome: { open(): void; close(): void }; camera: { expose(): void } }>();
    for (let night = 1; night <= 300; night++) {
      dome.open();
      camera.expose();
      if (night !== 90) dome.close();
    }
    saveLedger(ledger, at('nights.jsonl'));
    writeFileSync(at('nights.claims'), 'in turn 300 (dome.open › camera.expose › dome.close)\n');
    const [read, merged] = [[], ['--merge']].map((more) => ekkon('check', at('nights.jsonl'), '--claims', at('nights.claims'), ...more));
    expect(read).toEqual({ ...merged, code: 1 });
  });

  test('says of a call that was under way at the end for how long it was, the same each time', () => {
    const lines = [
      { ekkon: 'ledger', version: 1, name: 'night', opened: 1 },
      { tick: 1, begins: 1, label: 'dome.open', of: ['dome', 'open'], kind: 'call', at: 1_000, args: [] },
      { tick: 2, begins: 2, label: 'dome.close', of: ['dome', 'close'], kind: 'call', at: 1_700, args: [] },
      { tick: 3, ends: 2, at: 1_800, state: 'returned', value: 1 },
      { pends: 1 },
      { closes: 'ledger', entries: 2 },
    ];
    writeFileSync(at('open.jsonl'), lines.map((line) => JSON.stringify(line)).join('\n'));
    writeFileSync(at('open.claims'), 'once dome.open\nonce dome.close\n');
    expect(ekkon('check', at('open.jsonl'), '--claims', at('open.claims')).out).toContain('800 ms');
  });

  test('never says that claims hold on a file that is cut off, at whichever byte', () => {
    const whole = readFileSync(night, 'utf8').trimEnd();
    const cut = at('cut.jsonl');
    const never = { text: 'never alarm.sound', file: 'claims' };
    const heldAt = (end: number, allowsCut = false) => {
      writeFileSync(cut, whole.slice(0, end));
      return judgeFile(cut, 'cut', never, levelsIn('loose'), allowsCut).verdict.holds;
    };
    const ends = Array.from({ length: 300 }, (_, back) => whole.length - 1 - back);
    expect(ends.filter((end) => heldAt(end))).toEqual([]);
    expect([heldAt(whole.length), heldAt(whole.length - 5, true)]).toEqual([true, true]);
    writeFileSync(at('never.claims'), never.text);
    const outputs = ['text', 'json', 'junit', 'tap'].map((format) => ekkon('check', cut, '--claims', at('never.claims'), '--format', format));
    for (const { code, out } of outputs) expect([code, out]).toEqual([1, expect.stringContaining('the record is cut off after #')]);
    expect(outputs[0]?.out).toContain('it is not known whether the claim holds · ledger');
    const allowed = ekkon('check', cut, '--claims', at('never.claims'), '--allow-cut');
    expect([allowed.code, allowed.err]).toEqual([0, expect.stringContaining('is cut off; judged up to there')]);
  });

  test('reads lines with their keys in another order, and with blanks', () => {
    const other = at('other-order.jsonl');
    const turned = (line: string) =>
      JSON.stringify(Object.fromEntries(Object.entries(JSON.parse(line)).reverse()), undefined, 1).replaceAll('\n', '');
    const [header = '', ...lines] = readFileSync(night, 'utf8').trimEnd().split('\n');
    writeFileSync(other, [header, ...lines.map(turned)].join('\n'));
    for (const command of [['show', '--limit', '3'], ['show'], ['check', '--claims', claims]] as const) {
      const [name, ...args] = command;
      expect(ekkon(name, other, ...args)).toEqual(ekkon(name, night, ...args));
    }
  });

  test('judges the other ledgers if one cannot be judged, and says so in every format', () => {
    const bad = at('bad.jsonl');
    writeFileSync(bad, '{"no":"ledger"}\n');
    const [json, junit, tap] = ['"error": "check', '<error type="input" message="check', `not ok 6 - ${bad}: it can be judged`];
    const err = expect.stringContaining('bad.jsonl: this is not a ledger file');
    for (const [format, said] of Object.entries({ text: 'all 5 claims hold', json, junit, tap }))
      expect(ekkon('check', bad, night, '--claims', claims, '--format', format)).toEqual({ code: 2, out: expect.stringContaining(said), err });
    expect(ekkon('check', bad, '--claims', claims)).toMatchObject({ code: 2, out: '' });
  });

  test('says in one line what the system says', () => {
    const told = (path: string) => ekkon('check', path, '--claims', claims);
    symlinkSync('loop', at('loop'));
    for (const [path, said] of [
      [at('loop'), 'its symbolic links form a loop'],
      [join(claims, 'inside'), 'part of its path is not a folder'],
      [folder, 'this is a folder'],
      [at('none'), 'there is no such file'],
      [at('x'.repeat(300)), 'its name is too long'],
    ] as const)
      expect([told(path).code, told(path).err]).toEqual([2, `ekkon: check ${path}: ${said}\n`]);
  });

  /** Runs something with a file system of its own at a path, if one can be mounted here. */
  const withMount = (options: string, skip: (why: string) => void, use: (path: string) => void) => {
    const place = at(options);
    mkdirSync(place);
    if (spawnSync('mount', ['-t', 'tmpfs', '-o', options, 'tmpfs', place]).status !== 0) skip('no file system can be mounted here');
    try {
      use(place);
    } finally {
      spawnSync('umount', [place]);
    }
  };

  test('says in one line where nothing can be written', ({ skip }) => {
    withMount('ro', skip, (place) => {
      const path = join(place, 'night.html');
      for (const args of [
        ['convert', night, '--to', 'csv', '-o'],
        ['draw', night, '-o'],
        ['demo', '--save'],
      ])
        expect(ekkon(...args, path)).toMatchObject({ code: 2, err: `ekkon: ${args[0]} ${args.at(-1)} ${path}: the file system is read-only\n` });
    });
  });

  test('never says that claims hold if the disk is full', ({ skip }) => {
    withMount('size=64k', skip, (small) => {
      const lines = readFileSync(night, 'utf8');
      const input = lines.repeat(Math.ceil(200_000 / lines.length));
      const { code, out, err } = ekkon.given(input, { TMPDIR: small }, 'check', '-', '--claims', claims);
      expect([code, out, err]).toEqual([2, '', expect.stringMatching(/^ekkon: check -: the disk is full \(.*input\.jsonl\)\n$/)]);
      expect(readdirSync(small)).toEqual([]);
    });
  });

  test('judges several ledgers as one by wall time, each in its own order', () => {
    const line = (name: string, calls: Readonly<Record<string, number>>) => {
      const path = at(`${name}.jsonl`);
      const events = Object.entries(calls).flatMap(([member, when], index) => {
        const [double = '', key = ''] = member.split('.');
        const inside = index > 0 ? { during: 1 } : {};
        const begin = { tick: 2 * index + 1, begins: index + 1, label: member, of: [double, key], kind: 'call', at: when, args: [], ...inside };
        return [begin, { tick: 2 * index + 2, ends: index + 1, at: when, state: 'returned', value: 1 }];
      });
      const closes = { closes: 'ledger', entries: events.length / 2 };
      writeFileSync(path, [{ ekkon: 'ledger', version: 1, name, opened: 1 }, ...events, closes].map((each) => JSON.stringify(each)).join('\n'));
      return path;
    };
    const [one, other] = [line('one', { 'dome.open': 10, 'dome.close': 30 }), line('other', { 'mount.slewTo': 20, 'mount.park': 19 })];
    writeFileSync(at('merged.claims'), 'in turn dome.open › mount.slewTo › mount.park › dome.close\n');
    expect(ekkon('check', one, other, '--merge', '--claims', at('merged.claims'))).toEqual({
      code: 0,
      err: '',
      out: 'the claim holds · ledger "one + other"\n',
    });
    expect(ekkon('check', one, other, '--claims', at('merged.claims')).err).toMatch(/no double of ledger "one" is called mount/);
  });

  /** What is said of a wrong command; a file or folder of this test stands in `<…>`. */
  const wrong: Readonly<Record<string, RegExp>> = {
    'check <nothing> --claims <night.claims>': /^ekkon: check .*nothing: there is no such file\n$/,
    'check <.> --claims <night.claims>': /^ekkon: check .*: this is a folder\n$/,
    'check <night.claims> --claims <night.claims>': /^ekkon: check .*: this is not a ledger file/,
    'weigh <night.jsonl> --claims <night.claims> --at-least 101':
      /^ekkon: --at-least 101: it must be a whole number from 0 to 100 \(see ekkon --help\)\n$/,
    'weigh <night.jsonl>': /^ekkon: weigh: --claims <file> is missing\. Write /,
    'weigh <faulty.jsonl> --claims <night.claims>': /^ekkon: weigh .*: `once camera\.expose\(.*` does not hold on ledger .*\n$/,
    'check <night.jsonl>': /^ekkon: check: --claims <file> is missing\. Write /,
    'check <night.jsonl> --claims <night.claims> --by trace --merge': /^ekkon: --by and --merge cannot be given together( \(see ekkon --help\))?\n$/,
    'check <night.jsonl> --claims <night.claims> --by trace --format tap':
      /^ekkon: --by and --format cannot be given together( \(see ekkon --help\))?\n$/,
    'check <night.jsonl> --claims <night.claims> --by trace --allow-cut':
      /^ekkon: --by and --allow-cut cannot be given together( \(see ekkon --help\))?\n$/,
    'check <night.jsonl> --claims <night.claims> --merge --since x':
      /^ekkon: --merge and --since cannot be given together( \(see ekkon --help\))?\n$/,
    'check <night.jsonl> --claims <night.claims> --skew 3': /^ekkon: check: --skew is for --by trace, which was not given( \(see ekkon --help\))?\n$/,
    'check <night.jsonl> --claims <night.claims> --claims x':
      /^ekkon: --claims x: it was given before; put the claims into one file( \(see ekkon --help\))?\n$/,
    'check <night.jsonl> --claims <night.claims> --format xml': /^ekkon: --format xml: it must be one of text, json, junit, tap/,
    'check <night.jsonl> --clams <night.claims>': /^ekkon: there is no option --clams; did you mean --claims\?/,
    'chekc <night.jsonl>': /^ekkon: there is no command chekc; did you mean check\?/,
    'check <night.jsonl> --claims <night.jsonl>': /^ekkon: check --claims .*: line 1, column 1: .*\n {4}\{"ekkon".*\n {4}\^\n$/,
    'compare <night.jsonl>': /^ekkon: <after> is missing/,
    'draw <night.jsonl>': /^ekkon: draw: -o <file> is missing\. Write ekkon draw /,
    'draw <night.jsonl> -o <x.gif>': /^ekkon: draw -o .*x\.gif: nothing is drawn as \.gif; these are: txt, svg, mmd, html\n$/,
    'draw <night.jsonl> <faulty.jsonl> -o <x.svg>': /^ekkon: draw: \.svg shows one ledger, and 2 were given\n$/,
    'draw <night.claims> -o <x.html>': /^ekkon: draw .*night\.claims: this is not a ledger file/,
    'draw <none> -o <x.html>': /^ekkon: draw .*none: there is no such file\n$/,
    'draw <night.jsonl> --claims <other.claims> -o <x.html>': /^ekkon: draw --claims .*other\.claims: it has no claim for any of these ledgers\n$/,
    'convert <night.jsonl> --to ledger': /^ekkon: convert .*: there are no spans in it/,
  };
  test.each(Object.entries(wrong))('%s ends in one clear error and exit code 2', (command, said) => {
    writeFileSync(at('other.claims'), 'ledger "another night"\nonce dome.open\n');
    const { code, out, err } = ekkon(...command.split(' ').map((word) => (word.startsWith('<') ? at(word.slice(1, -1)) : word)));
    expect([code, out, err]).toEqual([2, '', expect.stringMatching(said)]);
  });

  test('whatever stands in a file, it ends in a result or in one clear error', () => {
    const text = readFileSync(night, 'utf8');
    const lines = text.split('\n');
    const broken = fc.oneof(
      fc.string({ unit: 'binary' }),
      fc.nat(text.length).map((end) => text.slice(0, end)),
      fc.shuffledSubarray(lines, { minLength: 1 }).map((some) => some.join('\n')),
      fc
        .tuple(fc.nat(lines.length - 1), fc.jsonValue())
        .map(([line, value]) => lines.map((each, place) => (place === line ? JSON.stringify(value) : each)).join('\n')),
      fc
        .tuple(fc.nat(lines.length - 2), fc.constantFrom('tick', 'begins', 'ends', 'args', 'of', 'state', 'at', 'kind', 'label'), fc.jsonValue())
        .map(([line, key, value]) =>
          lines.map((each, place) => (place === line ? JSON.stringify({ ...JSON.parse(each), [key]: value }) : each)).join('\n'),
        ),
    );
    forAll(400, broken, (content) => {
      const path = at('broken.jsonl');
      writeFileSync(path, content);
      try {
        loadLedger(path).entries();
      } catch (error) {
        expect(error).toBeInstanceOf(TypeError);
        expect((error as Error).message).toMatch(/^\S+broken\.jsonl: (this is|this ledger file|line \d+ is not an event)/);
      }
    });
  });
});
