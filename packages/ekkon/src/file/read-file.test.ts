import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { afterAll, expect, test } from 'vitest';
import { forAll } from '../../tests/for-all.ts';
import { linesOfFile } from './read-file.ts';

const folder = mkdtempSync(join(tmpdir(), 'ekkon-lines-'));
afterAll(() => rmSync(folder, { recursive: true }));

test('lines of a file are those of its text, however it is read, and none of some texts is passed over', () => {
  const pieces = fc.constantFrom('a', '\n', '\r\n', 'é夜🌟', '"mark"', 'b'.repeat(70_000), 'c\n'.repeat(40_000));
  const path = join(folder, 'file');
  forAll(60, fc.array(pieces, { maxLength: 12 }), (parts) => {
    const text = parts.join('');
    writeFileSync(path, text);
    const lines = text.split(/\r?\n/).map((line, at, all) => ({ text: line, number: at + 1, isLast: at === all.length - 1 }));
    const expected = lines.length > 1 && lines.at(-1)?.text === '' ? lines.slice(0, -1) : lines;
    expect([...linesOfFile(path)]).toEqual(expected);
    const around = [...linesOfFile(path, ['"mark"'])];
    expect(around.filter((each) => each.text.includes('"mark"'))).toEqual(expected.filter((each) => each.text.includes('"mark"')));
    expect(around[0]).toEqual(expected[0]);
  });
});
