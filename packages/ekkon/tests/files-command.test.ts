import { spawn, spawnSync } from 'node:child_process';
import { appendFileSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { call, check, deferred, fulfils, gives, once, openLedger, plan, stalls, times } from 'ekkon';
import { loadLedger, repliesFrom, replyAll, saveAsItGrows, saveLedger } from 'ekkon/file';
import fc from 'fast-check';
import { JSDOM } from 'jsdom';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { judgeFile } from '../src/cli/judge-file.ts';
import { pagePart } from '../src/file/report-page.ts';
import { fromLines } from '../src/record/read-lines.ts';
import { levelsIn } from '../src/rule/rules.ts';
import { ekkon } from './command.ts';

const folder = mkdtempSync(join(tmpdir(), 'ekkon-files-'));
afterAll(() => rmSync(folder, { recursive: true }));
const at = (name: string) => join(folder, name);
const [night, faulty, claims] = [at('night.jsonl'), at('faulty.jsonl'), at('night.claims')];

beforeAll(() => {
  ekkon('demo', '--save', night);
  ekkon('demo', '--fault', 'declination-lost', '--save', faulty);
  writeFileSync(
    claims,
    `# A night without clouds.
ledger "*"
once dome.open
once dome.close
in turn dome.open › 2 (fulfilled mount.slewTo › camera.expose) › dome.close
once camera.expose({
  seconds: 30, filter: "red", at: { ra: about(83.6), dec: 22 } })
never alarm.sound
`,
  );
});

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
    const suites = [...xml.querySelectorAll('testsuite')].map((suite) => ['tests', 'failures'].map((name) => suite.getAttribute(name)));
    expect([xml.querySelector('parsererror'), suites, xml.querySelector('failure')?.getAttribute('type')]).toEqual([
      null,
      [
        ['5', '0'],
        ['5', '1'],
      ],
      'missingCall',
    ]);
    const place = (element: Element | null) => ['file', 'line', 'time'].map((name) => element?.getAttribute(name));
    expect([place(xml.querySelector('testcase:has(failure)')), xml.documentElement.getAttribute('tests')]).toEqual([[claims, '6', '0'], '10']);
    const tap = ekkon('check', faulty, '--claims', claims, '--format', 'tap').out.split('\n');
    expect([
      tap[0],
      tap[1],
      tap.filter((line) => /^(not )?ok /.test(line)).length,
      tap.filter((line) => line.startsWith('not ok 4 -')).length,
    ]).toEqual(['TAP version 14', '1..5', 5, 1]);
  });

  test('reads what is compressed, or can be read once only, and refuses what is compressed and cut off', () => {
    const whole = gzipSync(readFileSync(night));
    writeFileSync(at('night.gz'), whole);
    writeFileSync(at('cut.gz'), whole.subarray(0, whole.length - 40));
    writeFileSync(
      at('damaged.gz'),
      whole.map((byte, place) => (place === 60 ? byte ^ 255 : byte)),
    );
    spawnSync('mkfifo', [at('pipe')]);
    const copies = at('copies');
    mkdirSync(copies);
    const env = { ...process.env, TMPDIR: copies };
    const run = (...args: readonly string[]) => ekkon.given('', env, ...args);
    const through = (from: string, command: string) => {
      const { stdout, stderr } = spawnSync('sh', ['-c', `cat ${from} > ${at('pipe')} & ${command}; wait`], { encoding: 'utf8', env });
      return stdout + stderr;
    };
    const check = `${process.execPath} ${fileURLToPath(new URL('../dist/cli.js', import.meta.url))} check`;
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
      spawnSync(
        process.execPath,
        [fileURLToPath(new URL('../dist/cli.js', import.meta.url)), 'check', '-', '--claims', at('marks.claims'), ...args],
        {
          input: readFileSync(at('marks.jsonl')),
          encoding: 'utf8',
        },
      );
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
    writeFileSync(
      other,
      readFileSync(night, 'utf8')
        .trimEnd()
        .split('\n')
        .map((line, at) => (at === 0 ? line : turned(line)))
        .join('\n'),
    );
    for (const command of [['show', '--limit', '3'], ['show'], ['check', '--claims', claims]] as const) {
      const [name, ...args] = command;
      expect(ekkon(name, other, ...args)).toEqual(ekkon(name, night, ...args));
    }
  });

  test('judges the other ledgers if one cannot be judged, and says so in every format', () => {
    const bad = at('bad.jsonl');
    writeFileSync(bad, '{"no":"ledger"}\n');
    const told = {
      text: 'all 5 claims hold',
      json: '"error": "check',
      junit: '<error type="input" message="check',
      tap: `not ok 6 - ${bad}: it can be judged`,
    };
    for (const [format, said] of Object.entries(told)) {
      const { code, out, err } = ekkon('check', bad, night, '--claims', claims, '--format', format);
      expect([format, code, out, err]).toEqual([
        format,
        2,
        expect.stringContaining(said),
        expect.stringContaining('bad.jsonl: this is not a ledger file'),
      ]);
    }
    expect(ekkon('check', bad, '--claims', claims)).toMatchObject({ code: 2, out: '' });
  });

  test('says in one line what the system says', () => {
    const told = (path: string) => ekkon('check', path, '--claims', claims);
    symlinkSync('loop', at('loop'));
    for (const [path, said] of [
      [at('loop'), 'its links lead in a circle'],
      [join(claims, 'inside'), 'a part of its path is no folder'],
      [folder, 'this is a folder'],
      [at('none'), 'there is no such file'],
      [at('x'.repeat(300)), 'its name is too long'],
    ] as const)
      expect([told(path).code, told(path).err]).toEqual([2, `ekkon: check ${path}: ${said}\n`]);
  });

  const small = at('small');
  mkdirSync(small);
  const isMounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=64k', 'tmpfs', small]).status === 0;
  if (isMounted) afterAll(() => void spawnSync('umount', [small]));
  else console.log('not tested, since no file system can be mounted here: a full disk');

  test.runIf(isMounted)('never says that claims hold if the disk is full', () => {
    const lines = readFileSync(night, 'utf8');
    const input = lines.repeat(Math.ceil(200_000 / lines.length));
    const { code, out, err } = ekkon.given(input, { TMPDIR: small }, 'check', '-', '--claims', claims);
    expect([code, out, err]).toEqual([2, '', expect.stringMatching(/^ekkon: check -: the disk is full \(.*input\.jsonl\)\n$/)]);
    expect(readdirSync(small)).toEqual([]);
  });

  test('judges several ledgers as one by wall time, each in its own order', () => {
    const line = (name: string, calls: readonly (readonly [string, number])[]) => {
      const path = at(`${name}.jsonl`);
      const events = calls.flatMap(([member, when], index) => {
        const [double = '', key = ''] = member.split('.');
        return [
          {
            tick: 2 * index + 1,
            begins: index + 1,
            label: member,
            of: [double, key],
            kind: 'call',
            at: when,
            args: [],
            ...(index > 0 ? { during: 1 } : {}),
          },
          { tick: 2 * index + 2, ends: index + 1, at: when, state: 'returned', value: 1 },
        ];
      });
      const closes = { closes: 'ledger', entries: events.length / 2 };
      writeFileSync(path, [{ ekkon: 'ledger', version: 1, name, opened: 1 }, ...events, closes].map((each) => JSON.stringify(each)).join('\n'));
      return path;
    };
    const [one, other] = [
      line('one', [
        ['dome.open', 10],
        ['dome.close', 30],
      ]),
      line('other', [
        ['mount.slewTo', 20],
        ['mount.park', 19],
      ]),
    ];
    writeFileSync(at('merged.claims'), 'in turn dome.open › mount.slewTo › mount.park › dome.close\n');
    expect(ekkon('check', one, other, '--merge', '--claims', at('merged.claims'))).toEqual({
      code: 0,
      err: '',
      out: 'the claim holds · ledger "one + other"\n',
    });
    expect(ekkon('check', one, other, '--claims', at('merged.claims')).err).toMatch(/no double of ledger "one" is called mount/);
  });

  const wrong: readonly (readonly [string, () => readonly string[], RegExp])[] = [
    ['no such ledger', () => ['check', at('nothing'), '--claims', claims], /^ekkon: check .*nothing: there is no such file\n$/],
    ['a folder', () => ['check', folder, '--claims', claims], /^ekkon: check .*: this is a folder\n$/],
    ['no ledger', () => ['check', claims, '--claims', claims], /^ekkon: check .*: this is not a ledger file/],
    [
      'a bar that is no per cent',
      () => ['weigh', night, '--claims', claims, '--at-least', '101'],
      /^ekkon: --at-least 101: it must be a whole number from 0 to 100 \(see ekkon --help\)\n$/,
    ],
    ['nothing to weigh by', () => ['weigh', night], /^ekkon: weigh: --claims <file> is missing\. Write /],
    [
      'claims that fail, to weigh by',
      () => ['weigh', faulty, '--claims', claims],
      /^ekkon: weigh .*: `once camera\.expose\(.*` does not hold on ledger .*\n$/,
    ],
    ['no claims', () => ['check', night], /^ekkon: check: --claims <file> is missing\. Write /],
    ...(
      [
        ['--by trace --merge', '--by and --merge cannot be given together'],
        ['--by trace --format tap', '--by and --format cannot be given together'],
        ['--by trace --allow-cut', '--by and --allow-cut cannot be given together'],
        ['--merge --since x', '--merge and --since cannot be given together'],
        ['--skew 3', 'check: --skew is for --by trace, which was not given'],
        ['--claims other', '--claims other: it was given before; put the claims into one file'],
      ] as const
    ).map(
      ([more, said]) =>
        [more, () => ['check', night, '--claims', claims, ...more.split(' ')], new RegExp(`^ekkon: ${said}( \\(see ekkon --help\\))?\n$`)] as const,
    ),
    [
      'no such format',
      () => ['check', night, '--claims', claims, '--format', 'xml'],
      /^ekkon: --format xml: it must be one of text, json, junit, tap/,
    ],
    ['a mistyped option', () => ['check', night, '--clams', claims], /^ekkon: there is no option --clams; did you mean --claims\?/],
    ['a mistyped command', () => ['chekc', night], /^ekkon: there is no command chekc; did you mean check\?/],
    [
      'claims that are wrong',
      () => ['check', night, '--claims', night],
      /^ekkon: check --claims .*: line 1, column 1: .*\n {4}\{"ekkon".*\n {4}\^\n$/,
    ],
    ['nothing to compare with', () => ['compare', night], /^ekkon: <after> is missing/],
    ['nowhere to draw to', () => ['draw', night], /^ekkon: draw: -o <file> is missing\. Write ekkon draw /],
    [
      'an ending nobody draws',
      () => ['draw', night, '-o', at('x.gif')],
      /^ekkon: draw -o .*x\.gif: nothing is drawn as \.gif; these are: txt, svg, mmd, html\n$/,
    ],
    ['two ledgers in one picture', () => ['draw', night, faulty, '-o', at('x.svg')], /^ekkon: draw: \.svg shows one ledger, and 2 were given\n$/],
    ['a page of what is no ledger', () => ['draw', claims, '-o', at('x.html')], /^ekkon: draw .*night\.claims: this is not a ledger file/],
    ['a page of a file that is not there', () => ['draw', at('none'), '-o', at('x.html')], /^ekkon: draw .*none: there is no such file\n$/],
    [
      'a page with claims for another ledger',
      () => {
        writeFileSync(at('other.claims'), 'ledger "another night"\nonce dome.open\n');
        return ['draw', night, '--claims', at('other.claims'), '-o', at('x.html')];
      },
      /^ekkon: draw --claims .*other\.claims: it has no claim for any of these ledgers\n$/,
    ],
    ['spans that are none', () => ['convert', night, '--to', 'ledger'], /^ekkon: convert .*: there are no spans in it/],
  ];
  test.each(wrong)('%s ends in one clear error and exit code 2', (_, args, said) => {
    const { code, out, err } = ekkon(...args());
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
    fc.assert(
      fc.property(broken, (content) => {
        const path = at('broken.jsonl');
        writeFileSync(path, content);
        try {
          loadLedger(path).entries();
        } catch (error) {
          expect(error).toBeInstanceOf(TypeError);
          expect((error as Error).message).toMatch(/^\S+broken\.jsonl: (this is|this ledger file|line \d+ is not an event)/);
        }
      }),
      { numRuns: 400 },
    );
  });
});

describe('other things to do with a record', () => {
  test('a long record is shown as it is read, and refused where all of it had to be in memory', () => {
    const calls = Array.from(
      { length: 300_001 },
      (_, at) =>
        `{"tick":${2 * at + 1},"begins":${at + 1},"label":"f","of":["f"],"kind":"call","at":0,"args":[]}\n{"tick":${2 * at + 2},"ends":${at + 1},"at":0,"state":"returned","value":1}`,
    );
    const lines = [
      '{"ekkon":"ledger","version":1,"name":"long","opened":0}',
      '{"double":"f","is":"callable"}',
      ...calls,
      '{"closes":"ledger","entries":300001}',
    ];
    writeFileSync(at('long.jsonl'), lines.join('\n'));
    for (const [args, said] of [
      [['compare', at('long.jsonl'), night], '300,000 are compared at most. Save shorter ledgers, one for each test'],
      [['draw', at('long.jsonl'), '-o', at('x.svg')], 'a picture takes 20,000 at most. A page takes more: write -o night.html'],
    ] as const)
      expect(ekkon(...args)).toEqual({ code: 2, out: '', err: `ekkon: ${args[0]} ${at('long.jsonl')}: it has 300,001 calls, and ${said}\n` });
    writeFileSync(at('some.jsonl'), [...lines.slice(0, 2_502), '{"closes":"ledger","entries":2500}'].join('\n'));
    const [, , ...rows] = ekkon('show', at('some.jsonl')).out.trimEnd().split('\n');
    expect(rows.map((row) => row.split(/ +/)[0])).toEqual(Array.from({ length: 2_500 }, (_, row) => `#${row + 1}`));
    expect(JSON.parse(ekkon('show', at('some.jsonl'), '--json').out)).toHaveLength(2_500);
    expect(ekkon('show', at('some.jsonl'), '--member', 'g')).toMatchObject({ code: 2, out: '', err: expect.stringContaining('nothing in') });
  });

  test('compare tells what is gone, new, moved and changed', () => {
    expect(ekkon('compare', night, night)).toEqual({ code: 0, err: '', out: 'the records are the same\n' });
    const record = (calls: readonly (readonly [string, number])[]) => {
      const ledger = openLedger({ name: 'x', rules: 'loose' });
      const { dome } = ledger.standIns<{ dome: Record<string, (to: number) => void> }>();
      for (const [member, to] of calls) dome[member]?.(to);
      const path = at(`${calls.length}.jsonl`);
      saveLedger(ledger, path);
      return path;
    };
    const before = record([
      ['a', 1],
      ['b', 2],
      ['c', 3],
      ['d', 4],
    ]);
    const after = record([
      ['b', 2],
      ['c', 5],
      ['a', 1],
      ['e', 6],
      ['f', 7],
    ]);
    const { code, out } = ekkon('compare', before, after);
    expect(code).toBe(1);
    expect(out.replaceAll(/ {3}\S*files-command\.test\.ts:\d+$/gm, '').replaceAll(/ +$/gm, '')).toBe(
      [
        '4 changes in 5 calls',
        '',
        '  first   #3   dome.a(1)   came before #1 dome.b then',
        '          #2   dome.c(5)   [0] was 3, is 5',
        '               dome.d(4)   missing after #2 dome.c',
        '          #4   dome.e(6)   new, and 1 call more',
        '         #5 dome.f(7)',
        '',
      ].join('\n'),
    );
    const { changes, first } = JSON.parse(ekkon('compare', before, after, '--format', 'json').out);
    expect(first).toMatch(/^#3 dome\.a came after #1 dome\.b, and before it in the earlier record/);
    expect(changes.map(({ calls }: { calls: { is: string; says: string }[] }) => calls.map(({ is, says }) => `${is}: ${says}`))).toEqual([
      ['moved: came before #1 dome.b then'],
      ['changed: [0] was 3, is 5'],
      ['gone: missing after #2 dome.c'],
      ['new: new', 'new: new'],
    ]);
    writeFileSync(at('d.claims'), 'never dome.d\ntimes 2 dome.e\n');
    expect(ekkon('compare', before, after, '--claims', at('d.claims')).out).toMatch(/^ {2}first claimed {3}#4 {3}dome\.e/m);
    expect(ekkon('check', after, '--claims', at('d.claims'), '--since', before).out).toMatch(
      /^#3 dome\.a came after #1 dome\.b, and before it when this test last passed[\s\S]*\nsince it last passed \(.*, 4 calls\): 4 changes in 5 calls\n {2}first .*\n {2}first claimed {3}#4 {3}dome\.e\(6\)/,
    );
    for (const [format, holds] of [
      ['json', /"since": \{\n\s+"passed": "20/],
      ['junit', /<system-out>#3 dome\.a came after[\s\S]*since it last passed[\s\S]*<\/system-out>\n {2}<\/testsuite>/],
      ['tap', /^1\.\.2\n# x\n# #3 dome\.a came after.*\n#\n# since it last passed/m],
    ] as const)
      expect(ekkon('check', after, '--claims', at('d.claims'), '--since', before, '--format', format).out).toMatch(holds);
    expect(ekkon('check', after, before, '--claims', at('d.claims'), '--since', before).err).toMatch(/^ekkon: check: --since is for one ledger/);
  });

  test('draw makes lanes as text and SVG, in which nothing recorded is markup', () => {
    const ledger = openLedger({ name: 'hostile <b>', rules: 'loose' });
    const dome = ledger.standIn<{ say(what: string): void }>('<script>alert(1)</script>');
    dome.say('</text><script>alert(2)</script>\u001b[31m\u202e"&');
    saveLedger(ledger, at('hostile.jsonl'));
    ekkon('draw', at('hostile.jsonl'), '-o', at('hostile.svg'));
    const { document } = new JSDOM(readFileSync(at('hostile.svg'), 'utf8'), { contentType: 'image/svg+xml' }).window;
    expect([document.querySelectorAll('script').length, document.querySelectorAll('text.call').length]).toEqual([0, 1]);
    expect(readFileSync(at('hostile.svg'), 'utf8')).not.toMatch(/\p{Cc}(?<!\n)|\u202e/u);
    for (const args of [
      ['show', at('hostile.jsonl')],
      ['draw', at('hostile.jsonl'), '-o', '-', '--format', 'txt'],
    ])
      expect(ekkon(...args).out).not.toMatch(/\p{Cc}(?<!\n)|\u202e/u);
    const drawn = ekkon('draw', faulty, '--claims', claims, '-o', '-', '--format', 'txt').out;
    expect(drawn).toMatch(/■ expose\([^\n]*◂ \[0\]\.at\.dec expected 22, received 0/);
  });

  test('draw makes one page of several ledgers, with what was found, in one file that asks for nothing', () => {
    expect(ekkon('draw', night, faulty, '--claims', claims, '-o', at('report.html'))).toEqual({ code: 0, err: '', out: '' });
    const html = readFileSync(at('report.html'), 'utf8');
    const { document } = new JSDOM(html).window;
    const { records } = JSON.parse(document.getElementById('records')?.textContent ?? '');
    expect(records).toMatchObject([
      { file: night, claims: readFileSync(claims, 'utf8'), verdict: { holds: true } },
      { file: faulty, verdict: { holds: false, findings: [{ code: 'missingCall', culprits: [7] }] } },
    ]);
    expect(`${records[0].text}\n`).toBe(readFileSync(night, 'utf8'));
    expect(document.querySelectorAll('[src], link[href^="http"], link[rel="stylesheet"]')).toHaveLength(0);
  });

  test('a page takes a part of a very long record, and says so', () => {
    const { text, whole } = pagePart(night, 3);
    expect([whole, fromLines(text).journal.entries.length]).toEqual([15, 3]);
    expect(pagePart(night)).toEqual({ text: readFileSync(night, 'utf8').trimEnd() });
  });

  test('weigh tells what nobody would notice, as text and as data, and asks for a bar', () => {
    const text = ekkon('weigh', night, '--claims', claims);
    expect([text.code, text.err]).toEqual([0, '']);
    expect(text.out).toMatch(
      /^\d+ of 35 questions noticed \(\d+ %\) · ledger "a dry night"\n\nthe claims would not notice if:\n\nadd {2}in turn nightLog\.write\(/,
    );
    expect(text.out).toContain('inTurn(call(archive.store, [{ id: "frame-1", seconds: 30 }]), call(archive.store, [');
    expect(text.out).toMatch(
      /#8 archive\.store \(.*night-run\.ts:\d+\) is left out \(and 1 more like it\)\n {4}or made twice, or given another \[0\]\.id, \[0\]\.seconds\n/,
    );
    const { questions, noticed, unnoticed } = JSON.parse(ekkon('weigh', night, '--claims', claims, '--format', 'json').out);
    // The weather is only asked, so that no claim is to count it.
    const open = unnoticed.filter(({ claim }: { claim: string }) => claim === '').map(({ message }: { message: string }) => message);
    expect([questions, open]).toEqual([
      35,
      [expect.stringMatching(/^#2 weather\.rain .* left out/), expect.stringMatching(/^#2 weather\.rain .* made twice/)],
    ]);
    const percent = Math.floor((100 * noticed) / questions);
    expect(ekkon('weigh', night, '--claims', claims, '--at-least', String(percent)).code).toBe(0);
    expect(ekkon('weigh', night, '--claims', claims, '--at-least', String(percent + 1))).toMatchObject({
      code: 1,
      err: `ekkon: weigh: ${percent} % of the questions are noticed, --at-least asks for ${percent + 1}\n`,
    });
  });

  test('convert gives CSV and trace events, and spans that make the same record again', () => {
    const csv = ekkon('convert', night, '--to', 'csv').out.split('\r\n');
    expect([csv.length, csv[1]]).toEqual([
      17,
      expect.stringMatching(/^1,1,2,.*,nightLog,write,call,"nightLog\.write\(""night begins"", \{ targets: 2 \}\)",returned,undefined,,/),
    ]);
    const { traceEvents } = JSON.parse(ekkon('convert', night, '--to', 'trace').out);
    expect(traceEvents.filter(({ ph }: { ph: string }) => ph === 'X')).toHaveLength(15);
    ekkon('convert', night, '--to', 'otlp', '-o', at('spans.json'));
    ekkon('convert', at('spans.json'), '--to', 'ledger', '-o', at('again.jsonl'));
    expect(ekkon('compare', night, at('again.jsonl'))).toMatchObject({ code: 0 });
  });

  test('what is no finished call is as before when it comes back from spans', async () => {
    const ledger = openLedger({ name: 'odd', rules: 'loose' });
    const { dome, mount } = ledger.standIns<{ dome: { open(): Promise<number>; angle: number }; mount: { slewTo(ra: number): Promise<void> } }>();
    plan(call(mount.slewTo), stalls());
    plan(call(dome.open), fulfils(1));
    const gauge = { degrees: 5 };
    ledger.observe(gauge, 'degrees', { name: 'gauge' });
    expect(gauge.degrees).toBe(5);
    void mount.slewTo(3);
    dome.angle = 4;
    ledger.follow((emit) => {
      emit(1);
      return () => {};
    }, 'rain');
    await dome.open();
    new (ledger.constructible<new (at: number) => object>('Cover'))(1);
    saveLedger(ledger, at('odd.jsonl'));
    ekkon('convert', at('odd.jsonl'), '--to', 'otlp', '-o', at('odd-spans.json'));
    ekkon('convert', at('odd-spans.json'), '--to', 'ledger', '-o', at('odd-again.jsonl'));
    const [before, after] = ['odd', 'odd-again'].map((name) => loadLedger(at(`${name}.jsonl`)).entries());
    const told = (entries: ReturnType<ReturnType<typeof loadLedger>['entries']> = []) =>
      entries.map(({ label, kind, outcome }) => [label, kind, outcome.state]);
    expect(told(after)).toEqual(told(before));
    expect(ekkon('compare', at('odd.jsonl'), at('odd-again.jsonl'))).toMatchObject({ code: 0 });
  });

  test('show goes on with a file that is being written, with what is under way, marks and a file in its place', async () => {
    const file = at('growing.jsonl');
    const opened = () => {
      const ledger = openLedger({ name: 'growing', rules: 'loose', callSites: 0 });
      const { dome } = ledger.standIns<{ dome: { open(to: number): Promise<void> } }>();
      saveAsItGrows(ledger, file);
      return { ledger, dome };
    };
    const { ledger, dome } = opened();
    const opening = deferred<void>();
    plan(call(dome.open, [1]), opening);
    const isOpen = dome.open(1);
    const cli = fileURLToPath(new URL('../dist/cli.js', import.meta.url));
    const shown = spawn(process.execPath, [cli, 'show', file, '--follow', '--limit', '3']);
    const slip = spawn(process.execPath, [cli, 'show', file, '--follow', '--member', 'dome.opne']);
    let [out, err, said] = ['', '', ''];
    shown.stdout.on('data', (part) => (out += part));
    shown.stderr.on('data', (part) => (err += part));
    slip.stderr.on('data', (part) => (said += part));
    const until = async (isThere: () => boolean) => {
      while (!isThere()) await new Promise((next) => setTimeout(next, 20));
    };
    await until(() => out.includes('dome.open(1)') && said.includes('\n'));
    slip.kill();
    ledger.mark('dusk');
    opening.fulfil();
    await isOpen;
    await dome.open(2);
    await until(() => out.includes('dome.open(2)'));
    ledger.close();
    appendFileSync(file, '{"tick":');
    expect(loadLedger(file).truncated).toBe(true);
    renameSync(file, at('grown.jsonl'));
    await opened().dome.open(3);
    await new Promise((ended) => shown.on('close', ended));
    expect(out.replaceAll(/ +/g, ' ').split(/ ?\n/)).toEqual([
      '#1 dome.open(1) pending',
      '── mark "dusk" ──',
      '#1 dome.open(1) fulfilled',
      '#2 dome.open(2) returned',
      '#1 dome.open(3) returned',
      '',
    ]);
    expect([err, said]).toEqual([
      `ekkon: ${file} was replaced; reading the new file\n`,
      `ekkon: show --member dome.opne: nothing in ${file} goes by that name so far; near it is dome.open\n`,
    ]);
  });

  test('show writes a call as claims do, and takes its member as --member', () => {
    const ledger = openLedger({ name: 'odd names', rules: 'loose', callSites: 0 });
    ledger.standIn<Record<string, (to: number) => void>>('my dome')['odd-key']?.(1);
    saveLedger(ledger, at('names.jsonl'));
    const shown = /^#1 .*?(".*\)) {2}returned$/m.exec(ekkon('show', at('names.jsonl')).out)?.[1];
    writeFileSync(at('names.claims'), `once ${shown}\n`);
    expect(ekkon('check', at('names.jsonl'), '--claims', at('names.claims')).code).toBe(0);
    for (const name of [shown?.replace('(1)', ''), 'my dome.odd-key', 'my dome'])
      expect(ekkon('show', at('names.jsonl'), '--member', name ?? '').out).toContain(shown);
  });

  test('a killed process leaves what it had', () => {
    const script = `
      import { openLedger } from ${JSON.stringify(new URL('../dist/index.js', import.meta.url).href)};
      import { saveAsItGrows } from ${JSON.stringify(new URL('../dist/file.js', import.meta.url).href)};
      const ledger = openLedger({ name: 'killed' });
      saveAsItGrows(ledger, ${JSON.stringify(at('killed.jsonl'))});
      const { dome } = ledger.standIns();
      dome.open(1); dome.open(2);
      process.kill(process.pid, 'SIGKILL');`;
    spawnSync(process.execPath, ['--input-type=module', '--eval', script]);
    expect(
      loadLedger(at('killed.jsonl'))
        .entries()
        .map(({ args }) => args),
    ).toEqual([[1], [2]]);
  });
});

describe('ekkon check --by trace', () => {
  const cli = fileURLToPath(new URL('../dist/cli.js', import.meta.url));
  /** Spans of 60 traces, each of three services, mixed; every seventh one stores before it opens. */
  const spans = () => {
    const lines: string[] = [];
    for (const [at, step] of [
      ['dome', 'open'],
      ['camera', 'expose'],
      ['archive', 'store'],
    ].entries()) {
      for (let trace = 0; trace < 60; trace++) {
        const time = (trace % 7 === 0 ? 2 - at : at) * 20_000_000;
        const span = {
          traceId: `t${trace}`,
          spanId: `s${at}`,
          name: step[1],
          startTimeUnixNano: String(1_000_000_000 + time),
          endTimeUnixNano: String(1_000_000_500 + time),
          attributes: [{ key: 'seconds', value: { intValue: trace } }],
        };
        lines.push(
          JSON.stringify({
            resourceSpans: [
              { resource: { attributes: [{ key: 'service.name', value: { stringValue: step[0] } }] }, scopeSpans: [{ spans: [span] }] },
            ],
          }),
        );
      }
    }
    return lines;
  };
  const verdicts = (out: string) =>
    out
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line))
      .map(({ ledger, holds }) => `${ledger} ${holds}`)
      .sort();
  const expected = Array.from({ length: 60 }, (_, trace) => `t${trace} ${trace % 7 !== 0}`).sort();
  const prepare = () => {
    writeFileSync(at('traces.claims'), 'in turn dome.open › camera.expose › archive.store\nnever alarm.sound\n');
    writeFileSync(at('traces.jsonl'), spans().join('\n'));
  };

  test('the order of what two machines did nearly at once is undecided, unless they say which came first', () => {
    const span = (spanId: string, name: string, start: number, more: object = {}) => ({
      traceId: 'aa',
      spanId,
      name,
      startTimeUnixNano: `${1_700_000_000_000 + start}000000`,
      endTimeUnixNano: `${1_700_000_000_001 + start}000000`,
      ...more,
    });
    const of = (host: string, service: string, ...spans: readonly object[]) => ({
      resource: {
        attributes: [
          { key: 'service.name', value: { stringValue: service } },
          { key: 'host.name', value: { stringValue: host } },
        ],
      },
      scopeSpans: [{ spans }],
    });
    const judged = (skew: readonly string[], ...resourceSpans: readonly object[]) => {
      writeFileSync(at('skew.jsonl'), `${JSON.stringify({ resourceSpans })}\n`);
      const { code, out } = ekkon('check', at('skew.jsonl'), '--by', 'trace', '--rules', 'loose', '--claims', at('skew.claims'), ...skew);
      return [code, JSON.parse(out).findings.map(({ code: found, message }: { code: string; message: string }) => [found, message])];
    };
    writeFileSync(at('skew.claims'), 'in turn camera.expose › archive.store\nonce archive.store\n');
    const expose = of('a', 'camera', span('01', 'expose', 0));
    const said =
      'it depends on the order of #1 camera.expose and #2 archive.store, which is not known: they are 3 ms apart on two machines, and less than 10 ms says nothing (--skew)';
    expect(judged([], expose, of('b', 'archive', span('02', 'store', 3)))).toEqual([1, [['undecidedOrder', said]]]);
    expect(judged(['--skew', '2'], expose, of('b', 'archive', span('02', 'store', 3)))).toEqual([0, []]);
    expect(judged([], expose, of('b', 'archive', span('02', 'store', 10)))).toEqual([0, []]);
    expect(judged([], expose, of('a', 'archive', span('02', 'store', 3)))).toEqual([0, []]);
    expect(judged([], expose, of('b', 'archive', span('02', 'store', -3, { parentSpanId: '01' })))).toEqual([0, []]);
    expect(judged([], expose, of('b', 'archive', span('02', 'store', -3, { links: [{ traceId: 'aa', spanId: '01' }] })))).toEqual([0, []]);
    expect(ekkon('check', at('skew.jsonl'), '--by', 'trace', '--claims', at('skew.claims'), '--skew', 'much').err).toMatch(
      /^ekkon: --skew much: it must be milliseconds, 0 or more/,
    );
  });

  test('spans that come twice are one, those that are inside of each other are named, and late ones are told', () => {
    const span = (traceId: string, spanId: string, name: string, parentSpanId?: string) =>
      JSON.stringify({
        resourceSpans: [
          {
            resource: { attributes: [{ key: 'service.name', value: { stringValue: 'dome' } }] },
            scopeSpans: [
              {
                spans: [
                  {
                    traceId,
                    spanId,
                    name,
                    startTimeUnixNano: `${spanId}000000`,
                    endTimeUnixNano: `${spanId}500000`,
                    ...(parentSpanId ? { parentSpanId } : {}),
                  },
                ],
              },
            ],
          },
        ],
      });
    const open = span('twice', '1', 'open');
    const odd = [span('itself', '1', 'open', '1'), span('circle', '1', 'open', '2'), span('circle', '2', 'close', '1')];
    writeFileSync(
      at('odd.jsonl'),
      [open, open, span('twice', '2', 'close', '1'), ...odd, span('other', '1', 'open'), span('twice', '3', 'close')].join('\n'),
    );
    writeFileSync(at('odd.claims'), 'once dome.open\n');
    const { code, out, err } = ekkon('check', at('odd.jsonl'), '--by', 'trace', '--rules', 'loose', '--patience', '2', '--claims', at('odd.claims'));
    expect([code, verdicts(out)]).toEqual([1, ['circle true', 'itself true', 'other true', 'twice false', 'twice true']]);
    expect(err.split('\n').filter((line) => line !== '')).toEqual([
      'ekkon: trace itself: dome.open (1) is inside of itself; the first is taken to have no parent',
      'ekkon: trace circle: dome.open (1) and dome.close (2) are inside of each other; the first is taken to have no parent',
      'ekkon: trace twice was judged twice: spans of it came more than 2 lines later (--patience)',
    ]);
  });

  test('judges each trace on its own, from a file and from standard input', () => {
    prepare();
    const { code, out, err } = ekkon('check', at('traces.jsonl'), '--by', 'trace', '--rules', 'usual', '--claims', at('traces.claims'));
    expect([code, verdicts(out)]).toEqual([1, expected]);
    expect(err).toMatch(/no span of .* is of alarm, of which .*traces\.claims speaks/);
    const piped = spawnSync(process.execPath, [cli, 'check', '-', '--by', 'trace', '--rules', 'usual', '--claims', at('traces.claims')], {
      input: spans().join('\n'),
      encoding: 'utf8',
    });
    expect(verdicts(piped.stdout)).toEqual(expected);
  });

  const hasParallel = spawnSync('parallel', ['--version']).status === 0;
  if (!hasParallel && process.env['CI'] === 'true') throw new Error('GNU parallel is not installed (apt-get install parallel), and CI needs it');
  test.runIf(hasParallel)('says the same over eight shards that an engine runs', { timeout: 120_000 }, () => {
    prepare();
    const shards = Array.from({ length: 8 }, (_, shard) => {
      const path = at(`shard${shard}.jsonl`);
      writeFileSync(
        path,
        spans()
          .filter((line) => Number(/"traceId":"t(\d+)"/.exec(line)?.[1]) % 8 === shard)
          .join('\n'),
      );
      return path;
    });
    const run = spawnSync(
      'parallel',
      [
        '--will-cite',
        '-j',
        '4',
        `cat {} | ${process.execPath} ${cli} check - --by trace --rules usual --claims ${at('traces.claims')}`,
        ':::',
        ...shards,
      ],
      { encoding: 'utf8' },
    );
    expect(verdicts(run.stdout)).toEqual(expected);
  });
});

describe('a saved ledger', () => {
  interface Archive {
    find(id: string): Promise<string>;
    count(): number;
  }
  const save = () => {
    const ledger = openLedger({ name: 'yesterday', rules: 'loose' });
    const { archive } = ledger.standIns<{ archive: Archive }>();
    plan(call(archive.count), gives(1), gives(2));
    plan(call(archive.find, ['a']), gives(Promise.resolve('frame a')));
    archive.count();
    archive.count();
    return archive.find('a').then(() => {
      saveLedger(ledger, at('yesterday.jsonl'));
      return loadLedger(at('yesterday.jsonl'));
    });
  };

  test('drives stand-ins: calls that it knows are answered, and another is a finding', async () => {
    const saved = await save();
    const ledger = openLedger({ name: 'today' });
    const archive = ledger.standIn<Archive>('archive');
    replyAll(archive, saved);
    expect([archive.count(), archive.count(), archive.count(), await archive.find('a')]).toEqual([1, 2, 2, 'frame a']);
    check(times(3, call(archive.count)), once(call(archive.find)));
    expect(() => archive.find('b')).toThrow(/archive\.find\("b"\) .* matches no plan/);
    expect(() => ledger.close()).toThrow(/archive\.find\("b"\)/);
    const other = openLedger({ rules: 'loose' });
    const one = other.standIn<Archive>('archive');
    plan(call(one.count), repliesFrom(saved));
    expect([one.count(), one.count()]).toEqual([1, 2]);
    expect(() => replyAll(other.standIn('dome'), saved)).toThrow('ledger "yesterday" has no calls of dome');
    expect(() => repliesFrom(other as never)).toThrow(/takes a ledger that was loaded/);
  });
});
