import { readFileSync, writeFileSync } from 'node:fs';
import { expect } from 'vitest';

const docs = new URL('../../../docs/', import.meta.url);

/** Compares the part of a page between two comments with what a test made for it; UPDATE_DOCS=true writes it into the page. */
export function expectInDocs(name: string, part: string, start = '<!-- made by tests -->\n', end = '\n<!-- end -->'): void {
  const page = new URL(name, docs);
  const text = readFileSync(page, 'utf8');
  const [before, after] = [text.indexOf(start) + start.length, text.indexOf(end)];
  expect([before > start.length, after > before]).toEqual([true, true]);
  if (process.env['UPDATE_DOCS'] === 'true') writeFileSync(page, text.slice(0, before) + part + text.slice(after));
  else expect(text.slice(before, after)).toBe(part);
}
