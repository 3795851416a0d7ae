import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { loadLedger } from 'ekkon/file';
import { afterAll, describe, expect, test } from 'vitest';
import { hasBrowserFor } from '../../scripts/browser.mjs';
import { folder, runCases } from './run-cases.ts';

const kept = `${folder}/.last-pass`;
const saved = mkdtempSync(join(folder, '.saved-'));
afterAll(() => {
  for (const made of [kept, saved]) rmSync(made, { recursive: true, force: true });
});

const { runIf } = describe;

runIf(hasBrowserFor("Vitest's browser mode"))("in Vitest's browser mode", { timeout: 120_000 }, () => {
  let passed = '';
  let failed = '';
  test('tests pass and fail as they should', () => {
    passed = runCases('{night,places}', { VITE_FAULT: 'off', EKKON_WEIGH: '1', EKKON_LAST_PASS: kept });
    failed = runCases('{night,places}', { VITE_FAULT: 'on', EKKON_SAVE: saved });
    expect([passed, failed]).toEqual([expect.stringMatching(/Tests +2 passed/), expect.stringMatching(/Tests +2 failed/)]);
  });

  test("a store of one's own keeps the last pass, and a folder is said to need one", () => {
    expect(existsSync(kept)).toBe(true);
    expect(passed).toMatch(/ekkon: lastPass: .* is a folder, and there are no files here/);
    expect(failed).toMatch(
      /ClaimError: #2 dome\.turn was given -1, and 5 when this test last passed .*\n\nsince it last passed \(.*, 2 calls\): 1 change in 1 call\n {2}first {3}#2 {3}dome\.turn\(-1\) {3}\[0\] was 5, is -1/,
    );
  });

  test('places are those of the sources, whatever the page runs', () => {
    expect(failed).toContain('ClaimError: #1 tower.open (tower.ts:16): [0] expected 5, received 4');
    expect(failed).toContain('❯ places.case.ts:13:8');
  });

  test('EKKON_WEIGH weighs, and EKKON_SAVE saves ledgers, with pages and a list of them', () => {
    expect(passed).toContain('ekkon: "the tower turns": 3 of 3 questions noticed (100 %)');
    const file = readdirSync(saved).find((name) => name.includes('tower') && name.endsWith('.jsonl')) ?? '';
    const page = readFileSync(join(saved, file.replace('.ledger.jsonl', '.html')), 'utf8');
    expect(page).toContain('<meta name="description" content="#1 tower.open (tower.ts:16): [0] expected 5, received 4');
    expect(readFileSync(join(saved, 'index.html'), 'utf8')).toContain('2 tests with a saved ledger');
    expect(loadLedger(join(saved, file)).entries()[0]).toMatchObject({ label: 'tower.open', args: [4], site: { file: 'tower.ts', line: 16 } });
  });
});
