import { describe, expect, test } from 'vitest';
import { expectInDocs } from '../../packages/ekkon/tests/made-docs.ts';
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
    const names = [...table.keys()];
    const needs = Object.keys(table.get('Node') ?? {});
    const rows = needs.map((need) => `| ${need} | ${names.map((name) => (table.get(name)?.[need] === 'works' ? 'yes' : '–')).join(' | ')} |`);
    const lines = [`| | ${names.join(' | ')} |`, `|---${'|---'.repeat(names.length)}|`, ...rows];
    expectInDocs('doubles.md', lines.join('\n'));
  });
});
