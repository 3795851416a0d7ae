import { spawn, spawnSync } from 'node:child_process';
import { appendFileSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { call, check, deferred, fulfils, gives, once, openLedger, plan, stalls, times } from 'ekkon';
import { loadLedger, repliesFrom, replyAll, saveAsItGrows, saveLedger } from 'ekkon/file';
import { JSDOM } from 'jsdom';
import { describe, expect, test } from 'vitest';
import { pagePart } from '../src/file/report-page.ts';
import { fromLines } from '../src/record/read-lines.ts';
import { ekkon } from './command.ts';
import { cli, savedNight } from './saved-night.ts';

const { at, night, faulty, claims } = savedNight();

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
    const record = (calls: Readonly<Record<string, number>>) => {
      const ledger = openLedger({ name: 'x', rules: 'loose' });
      const { dome } = ledger.standIns<{ dome: Record<string, (to: number) => void> }>();
      for (const [member, to] of Object.entries(calls)) dome[member]?.(to);
      const path = at(`${Object.keys(calls).join('')}.jsonl`);
      saveLedger(ledger, path);
      return path;
    };
    const before = record({ a: 1, b: 2, c: 3, d: 4 });
    const after = record({ b: 2, c: 5, a: 1, e: 6, f: 7 });
    const { code, out } = ekkon('compare', before, after);
    expect(code).toBe(1);
    expect(out.replaceAll(/ {3}\S*record-commands\.test\.ts:\d+$/gm, '').replaceAll(/ +$/gm, '')).toBe(
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
    for (const [name, ...more] of ['show', 'draw -o - --format txt'].map((line) => line.split(' ')))
      expect(ekkon(name as string, at('hostile.jsonl'), ...more).out).not.toMatch(/\p{Cc}(?<!\n)|\u202e/u);
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

  test('what is not a finished call is as before when it comes back from spans', async () => {
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
    const left = loadLedger(at('killed.jsonl')).entries();
    expect(left.map(({ args }) => args)).toEqual([[1], [2]]);
  });
});

describe('a saved ledger', () => {
  type Archive = { find(id: string): Promise<string>; count(): number };
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
