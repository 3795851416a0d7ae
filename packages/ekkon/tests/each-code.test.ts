import { expect, test } from 'vitest';
import { reportText } from '../src/report/text.ts';
import type { ToldBlock, ToldFinding } from '../src/report/told.ts';
import { toldVerdict } from '../src/report/told.ts';
import { eachCode, inStretch } from './each-code.ts';

const onOneLine = (text: string) => text.replace(/\s+/g, ' ').trim();

/** What a page says of a finding, a line for a line of the text report. */
function linesOf({ claim, blocks }: ToldFinding): readonly string[] {
  const inBlock = (block: ToldBlock): readonly string[] => {
    if (block.is === 'line') return [block.line.map(({ text }) => text).join('')];
    const lines = block.differences.flatMap(({ path, says }) => {
      const [first = '', ...rest] = says.map((line) => line.map(({ text }) => text).join(''));
      return [`${path.join('')} ${first}`, ...rest];
    });
    return block.is === 'changes' ? ['changed after the call:', ...lines] : lines;
  };
  return [claim, ...blocks.flatMap(inBlock)].map(onOneLine);
}

/** The lines of a report without its numbers, what stands above and below the findings, and lanes, which a page draws. */
function linesIn(report: string): readonly string[] {
  const lines = report
    .split('\n')
    .slice(1, -1)
    .map((line) => line.replace(/^ ?\d+ {2}/, ''));
  return lines.filter((line) => line.trim() !== '' && !/^ *(tick|#\d+ +\d+) /.test(line)).map(onOneLine);
}

test.each(Object.entries({ ...eachCode, 'a claim in a stretch': inStretch }))(
  '%s is found, and told to a page as to a terminal',
  async (code, make) => {
    const { verdict } = await make();
    if (code in eachCode) expect(verdict.findings.map((finding) => finding.code)).toContain(code);
    const told = toldVerdict(verdict);
    const report = reportText(verdict, { width: 100, places: true });
    expect(report.split('\n').at(-1)).toMatch(new RegExp(`^${told.heading} · `));
    const narrow = reportText(verdict, { width: 76 }).split('\n');
    expect(narrow.filter((line) => /^ {4}#\d+ /.test(line) && line.length > 76)).toEqual([]);
    const between = told.findings.map(({ message }) => message);
    expect(told.findings.flatMap(linesOf)).toEqual(linesIn(report).filter((line) => !between.includes(line)));
  },
);
