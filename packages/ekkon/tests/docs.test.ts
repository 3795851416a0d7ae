import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { basename, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { ClaimError, openLedger } from 'ekkon';
import { afterEach, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import * as library from '../src/index.ts';
import { firstLine } from '../src/report/first-line.ts';
import { guide } from '../src/report/guide.ts';
import * as requests from '../src/requests/index.ts';
import { atHand } from './docs-at-hand.ts';
import { eachCode } from './each-code.ts';

const root = fileURLToPath(new URL('../../..', import.meta.url));
const sources = fileURLToPath(new URL('../src', import.meta.url));
const made = fileURLToPath(new URL('./docs-made', import.meta.url));
const pages = [
  'README.md',
  ...readdirSync(join(root, 'docs'))
    .filter((name) => name.endsWith('.md'))
    .map((name) => `docs/${name}`),
];

/** An example of a page: a block of TypeScript that is not a file of its own. */
type Example = { readonly page: string; readonly line: number; readonly code: string; readonly file: string };

/** The examples of all pages. A block with a file's name is tested where a copy is installed. */
const examples = pages.flatMap((page): Example[] => {
  const text = readFileSync(join(root, page), 'utf8');
  return [...text.matchAll(/^```ts\n([\s\S]*?)^```/gm)].map(([, code = ''], at) => ({
    page,
    line: text.slice(0, text.indexOf(code)).split('\n').length,
    code,
    file: `${basename(page, '.md').toLowerCase()}-${at + 1}.ts`,
  }));
});

/** The examples of doc comments. */
const commented = readdirSync(sources, { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'))
  .flatMap((name): Example[] => {
    const text = readFileSync(join(sources, name), 'utf8');
    return [...text.matchAll(/@example\n([\s\S]*?)(?=\n *\*\/|\n *\* @)/g)].map(([whole, code = ''], at) => ({
      page: `packages/ekkon/src/${name}`,
      line: text.slice(0, text.indexOf(whole)).split('\n').length + 1,
      code: code.replace(/^ *\* ?/gm, '').concat('\n'),
      file: `comment-${name.replace(/[/.]/g, '-')}-${at + 1}.ts`,
    }));
  });

const all = [...examples, ...commented];

/** What goes wrong beside claims: the example of a comment has not always the code that would make its claims hold. */
async function problemOf(run: () => unknown): Promise<unknown> {
  try {
    await run();
    return undefined;
  } catch (error) {
    return error instanceof ClaimError ? undefined : error;
  }
}

/** Whether an example is a file for a runner. It is compiled, and its like in the pages runs where a copy is installed. */
const isForRunner = ({ code }: Example) => /from '(ekkon\/(vitest|node)|vitest\/config)'|registerSeams/.test(code);

const types = `import type { Alarm, Archive, Camera, Devices, Dome, Exposure, Frame, Mount, NightLog, Position, Station, Weather } from '../docs-at-hand.ts';`;

/** Modules of the reader's own are those of the observatory here. */
function ownModules(code: string): string {
  return code.replaceAll("'../src/", "'../../../../examples/observatory/src/");
}

/**
 * An example as a module: that of a page as it stands, since it is to be pasted; that of a comment in a function that has
 * the doubles of the observatory at hand.
 */
function moduleOf(example: Example): string {
  const { code } = example;
  if (examples.includes(example)) return `${ownModules(code)}\nexport {};\n`;
  if (isForRunner(example)) return `${types}\n${code}`;
  const imports = code.match(/^import [^;]*;$/gm) ?? [];
  const body = code.replace(/^import [^;]*;$/gm, '');
  const taken = new Set(imports.flatMap((line) => line.match(/\w+/g) ?? []));
  const names = (of: object) =>
    Object.keys(of)
      .filter((name) => !taken.has(name))
      .join(', ');
  const hand = Object.keys(atHand(openLedger({ rules: 'loose' }))).join(', ');
  return `
import { ${names(library)} } from 'ekkon';
${taken.has('request') || taken.has('requests') ? '' : `import { ${names(requests)} } from 'ekkon/requests';`}
import type { Claim, Ledger } from 'ekkon';
import { atHand, CoverMotor, DomeKeeper, Gauge, motors, NightRun, openCover, SafeKeeper } from '../docs-at-hand.ts';
${types}
${ownModules(imports.join('\n'))}
export async function run(ledger: Ledger): Promise<void> {
  const { ${hand} } = atHand(ledger);
  {
${ownModules(body)}  }
}
`;
}

beforeAll(() => {
  rmSync(made, { recursive: true, force: true });
  mkdirSync(made);
  for (const example of all) writeFileSync(join(made, example.file), moduleOf(example));
  const extended = {
    extends: '../../tsconfig.json',
    compilerOptions: { noUnusedLocals: false, noUnusedParameters: false, allowUnusedLabels: true },
    include: ['.'],
    exclude: [],
  };
  writeFileSync(join(made, 'tsconfig.json'), JSON.stringify(extended));
});

describe('every example of the documentation', () => {
  test('compiles', () => {
    const { stdout } = spawnSync('npx', ['tsc', '-p', made], { cwd: root, encoding: 'utf8' });
    const said = stdout.split('\n').filter((line) => line.includes('error TS'));
    const placed = said.map((line) => {
      const example = all.find(({ file }) => line.includes(`/${file}(`) || line.startsWith(`${file}(`));
      return example === undefined ? line : `${example.page}:${example.line} ${line}`;
    });
    expect(placed).toEqual([]);
  });

  const placed = (those: readonly Example[]) =>
    those.filter((example) => !isForRunner(example)).map((example) => [`${example.page}:${example.line}`, example] as const);

  // What they write stays among what is made.
  const before = process.cwd();
  beforeEach(() => process.chdir(made));
  afterEach(() => process.chdir(before));

  test.each(placed(examples))('%s runs as it is pasted, and its claims hold', async (_, { file }) => {
    await import(/* @vite-ignore */ join(made, file));
  });

  test.each(placed(commented))('%s runs', async (_, { file }) => {
    const ledger = openLedger({ name: 'an example', rules: 'loose' });
    const { run } = await import(/* @vite-ignore */ join(made, file));
    const problems = [await problemOf(() => run(ledger)), await problemOf(() => ledger.close())];
    expect(problems).toEqual([undefined, undefined]);
  });

  test('is there for every function that tests import', () => {
    const text = readdirSync(sources, { recursive: true, encoding: 'utf8' })
      .filter((name) => name.endsWith('.ts'))
      .map((name) => readFileSync(join(sources, name), 'utf8'))
      .join('\n');
    const explained = /\/\*\*(?:(?!\*\/)[\s\S])*?@example(?:(?!\*\/)[\s\S])*?\*\/\s*export (?:async )?(?:function|const) (\w+)/g;
    const shown = new Set([...text.matchAll(explained)].map(([, name]) => name));
    const exported = Object.keys({ ...library, ...requests }).filter((name) => !name.endsWith('Error'));
    expect(exported.filter((name) => !shown.has(name))).toEqual([]);
  });

  test('all links lead somewhere', () => {
    const broken = pages.flatMap((page) => {
      const text = readFileSync(join(root, page), 'utf8');
      return [...text.matchAll(/\]\((?!https?:)([^)#]+)(?:#[^)]*)?\)/g)].flatMap(([, to = '']) => {
        const path = join(root, page, '..', to);
        const known = spawnSync('test', ['-e', path]).status === 0;
        return known ? [] : [`${page}: ${relative(root, path)}`];
      });
    });
    expect(broken).toEqual([]);
  });

  test('the README is one screen long, as READMEs go', () => {
    expect(readFileSync(join(root, 'README.md'), 'utf8').split('\n').length).toBeLessThanOrEqual(150);
  });
});

test('docs/findings.md has every code, as it is found, and what to do', async () => {
  const parts: string[] = [];
  for (const code of Object.keys(guide).sort() as (keyof typeof guide)[]) {
    const { means, reasons, write } = guide[code];
    const { verdict } = await eachCode[code]();
    const line = firstLine(verdict)
      .replaceAll(`${root}`, '')
      .replace(/\b[\w./-]+\.ts:\d+/g, 'night.test.ts:12')
      .replace(/\d+ ms\b/g, '5 ms');
    parts.push(`## ${code}\n\n${means}\n\n\`\`\`\n${line}\n\`\`\`\n\nUsual reasons: ${reasons.join('; ')}.\n\n${write}\n`);
  }
  const text = `# Findings

The last line of every error names the codes of what was found. This page has all of them, made from the table that
\`packages/ekkon/src/report/guide.ts\` holds, each with a first line as it is found. The rules are described in [rules](rules.md).

${parts.join('\n')}`;
  const path = join(root, 'docs/findings.md');
  if (process.env['UPDATE_DOCS'] === 'true') writeFileSync(path, text);
  expect(readFileSync(path, 'utf8')).toBe(text);
});
