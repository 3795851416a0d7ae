import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openLedger } from 'ekkon';
import { JSDOM } from 'jsdom';
import { afterAll, afterEach, beforeAll, describe, expect, test } from 'vitest';
import { loadLedger } from '../src/file/index.ts';
import { weighIfAsked } from '../src/weigh/weigh-if-asked.ts';
import { type InnerTest, innerRun } from './inner-run.ts';

const kept = mkdtempSync(join(tmpdir(), 'ekkon-kept-'));
let tests: readonly InnerTest[] = [];
let output = '';
beforeAll(() => {
  ({ tests, output } = innerRun('fixture.case.ts', { EKKON_SAVE: kept }));
});
afterAll(() => rmSync(kept, { recursive: true }));

afterEach(() => {
  delete process.env['EKKON_WEIGH'];
  delete process.env['EKKON_RULES'];
});

/** What became of a test: `passed`, `skipped`, or the first lines of its failures. */
function became(title: string): unknown {
  const found = tests.find((each) => each.title === title);
  return found?.status === 'failed' ? found.failureMessages.map((message) => message.split('\n')[0]) : found?.status;
}

const unmet = 'ClaimError: dome.close was never called; nothing was called at all';

describe('the fixture, asked to weigh', () => {
  const statuses = (asked: string) => {
    const { tests: inner, output: said } = innerRun('weigh.case.ts', { EKKON_WEIGH: asked });
    return { said, inner: inner.map(({ title, status, failureMessages }) => [title, status, failureMessages.join('').split('\n')[0]]) };
  };

  test('tells how much the claims of each test would notice', () => {
    const { inner, said } = statuses('1');
    expect(inner.map(([, status]) => status)).toEqual(['passed', 'passed', 'passed']);
    expect(said).toContain('ekkon: "claims all that matters": 3 of 3 questions noticed (100 %)\n');
    expect(said).toContain('ekkon: "claims too little": 2 of 3 questions noticed (66 %)\n  add once(call(dome.turn, [90]))\n');
    expect(said).not.toContain('claims nothing of a ledger":');
  });

  test('fails a test of which too little would be noticed, and a bar that is none', () => {
    expect(statuses('80').inner).toEqual([
      ['claims all that matters', 'passed', ''],
      ['claims too little', 'failed', 'Error: EKKON_WEIGH=80: only 66 % of the questions are noticed'],
      ['claims nothing of a ledger', 'passed', ''],
    ]);
    process.env['EKKON_WEIGH'] = 'most';
    expect(() => weighIfAsked(openLedger())).toThrow(
      'EKKON_WEIGH=most: it is 1 to weigh the claims of each test, or the per cent of questions that have to be noticed, as in EKKON_WEIGH=80',
    );
  });
});

describe('the fixture', () => {
  const outcomes: Readonly<Record<string, unknown>> = {
    'is named after its test': 'passed',
    'each 2 has a ledger of its own': 'passed',
    'for 1 has a ledger of its own': 'passed',
    'for 3 has a ledger of its own': 'passed',
    'a finding at close fails the test': [unmet],
    'the body’s own failure comes first': ['Error: the body failed', unmet],
    'after a failed body only what could explain it is told': ['Error: the body failed'],
    'a caught check does not hide what closing finds': [expect.stringContaining('ClaimError: dome~2.close was never called')],
    'a skipped test has no findings': 'skipped',
    'a retry has a ledger of its own': 'passed',
    'a test that takes too long is told what it waits for': [
      expect.any(String),
      expect.stringMatching(/^ClaimError: the promise of #1 dome\.open \(.*fixture\.case\.ts:\d+\) never settled$/),
    ],
    'a claim in a hook counts': [expect.stringContaining('never was never called')],
    'a takeover is put back though the body fails': ['Error: the body failed'],
    'and is back in the next test': 'passed',
    'a ledger opened by hand in a test with the fixture is another one': 'passed',
  };
  test.each(Object.entries(outcomes))('%s', (title, outcome) => {
    expect(became(title)).toEqual(outcome);
  });

  test('says once a run that tests have notes, and how to read them', () => {
    const said = output.match(/ekkon: "leaves a note 1" has 1 note, .*summary\(ledger\) lists them; rules: 'careful', or EKKON_RULES=careful/g);
    expect([said?.length, output.match(/This is said once a run/g)?.length]).toEqual([1, 1]);
  });

  test('has the rules that the environment names, and no others', () => {
    process.env['EKKON_RULES'] = 'careful';
    const ledger = openLedger();
    ledger.callable<() => void>('done')();
    expect(() => ledger.close()).toThrow(/no claim was checked/);
    process.env['EKKON_RULES'] = 'carful';
    expect(() => openLedger()).toThrow('EKKON_RULES=carful: there is no such set of rules');
  });

  test('keeps a thousand concurrent tests apart', () => {
    const numbered = tests.filter(({ title }) => title.startsWith('number '));
    expect(numbered).toHaveLength(1_000);
    expect(numbered.filter(({ status }) => status !== 'passed')).toEqual([]);
  });

  test('keeps the ledgers of tests that failed, where it is told to, and says where', () => {
    const files = readdirSync(kept).filter((name) => name.endsWith('.ledger.jsonl'));
    const failed = tests.filter(({ status }) => status === 'failed');
    // Each try of a test that is tried again is saved too.
    expect(files).toHaveLength(failed.length + 2);
    const late = files.find((name) => name.includes('a-test-that-takes-too-long')) ?? '';
    expect(output).toContain(`ekkon: the ledger of "a test that takes too long is told what it waits for" is saved in ${join(kept, late)}`);
    expect(loadLedger(join(kept, late)).entries()).toMatchObject([{ label: 'dome.open', args: [5], outcome: { state: 'pending' } }]);
  });

  test('writes a report page beside each, with what the test was told and the claims that can be written', () => {
    const pages = readdirSync(kept).filter((name) => name.endsWith('.html') && name !== 'index.html');
    expect(pages).toHaveLength((readdirSync(kept).length - 1) / 2);
    const late = join(kept, pages.find((name) => name.includes('a-test-that-takes-too-long')) ?? '');
    expect(output).toContain(`ekkon: its report page is ${late}`);
    const [, json = ''] = /<script type="application\/json" id="records">(.*)<\/script>/.exec(readFileSync(late, 'utf8')) ?? [];
    const [record] = JSON.parse(json).records;
    expect(record.verdict).toMatchObject({ holds: false, findings: [{ code: 'unfinishedCall' }] });
  });

  test('lists all pages on one, each with what was found first', () => {
    const { window } = new JSDOM(readFileSync(join(kept, 'index.html'), 'utf8'));
    const listed = [...window.document.querySelectorAll('li')].map((item) => [
      decodeURIComponent(item.querySelector('a')?.getAttribute('href') ?? ''),
      item.querySelector('p')?.textContent,
    ]);
    const pages = readdirSync(kept).filter((name) => name.endsWith('.html') && name !== 'index.html');
    expect(listed.map(([page]) => page)).toEqual(pages.sort());
    const late = listed.find(([page]) => page?.includes('a-test-that-takes-too-long'));
    expect(late?.[1]).toMatch(/^the promise of #1 dome\.open .* never settled/);
  });
});
