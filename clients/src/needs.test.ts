import { readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from 'vitest';
import { hasBrowserFor } from '../../scripts/browser.mjs';
import { runCases } from './run-cases.ts';

const hasBrowser = hasBrowserFor('what pages need');

/** Where the needs of pages are met, and what says that something is not there at all. */
const places: readonly (readonly [name: string, place: string])[] = [
  ['Node', 'node'],
  ['jsdom', 'jsdom'],
  ['happy-dom', 'happy-dom'],
  ['a browser', 'browser'],
];
const isAbsent = /^ReferenceError: (?:navigator|window|document|localStorage) is not defined$/;

const table = new Map<string, Readonly<Record<string, string>>>();

describe('what pages need is stood in for, and all is as it was afterwards', () => {
  for (const [name, place] of places)
    test.runIf(hasBrowser || place !== 'browser')(name, { timeout: 120_000 }, () => {
      const printed = runCases('needs', { PLACE: place });
      const found: Record<string, string> = JSON.parse(/RESULTS (\{.*\})$/m.exec(printed)?.[1] ?? '{}');
      table.set(name, found);
      const failed = Object.entries(found).filter(([, said]) => said !== 'works' && !(place === 'node' && isAbsent.test(said)));
      expect([failed, Object.keys(found).length > 10]).toEqual([[], true]);
    });

  test.runIf(hasBrowser)('the table of the docs says what was found', () => {
    const page = fileURLToPath(new URL('../../docs/doubles.md', import.meta.url));
    const text = readFileSync(page, 'utf8');
    const names = [...table.keys()];
    const needs = Object.keys(table.get('Node') ?? {});
    const rows = needs.map((need) => `| ${need} | ${names.map((name) => (table.get(name)?.[need] === 'works' ? 'yes' : '–')).join(' | ')} |`);
    const lines = [`| | ${names.join(' | ')} |`, `|---${'|---'.repeat(names.length)}|`, ...rows];
    const made = text.replace(/(<!-- made by tests -->\n)[\s\S]*?(\n<!-- end -->)/, (_, before, after) => `${before}${lines.join('\n')}${after}`);
    if (process.env.UPDATE_DOCS === 'true') writeFileSync(page, made);
    expect(process.env.UPDATE_DOCS === 'true' ? made : text).toBe(made);
  });
});
