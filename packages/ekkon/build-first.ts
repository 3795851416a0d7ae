import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build, parseSync } from 'vite';

const here = fileURLToPath(new URL('.', import.meta.url));

interface Coverage {
  readonly result: readonly {
    readonly url: string;
    readonly functions: readonly {
      readonly functionName: string;
      readonly ranges: readonly { readonly count: number }[];
    }[];
  }[];
}

/**
 * The names of the functions that an ordinary test calls, by the source that has them: found by running one.
 *
 * @param source the folder of the sources
 */
export async function calledFirst(
  source: string,
): Promise<ReadonlyMap<string, ReadonlySet<string>>> {
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-first-'));
  try {
    await build({
      configFile: false,
      logLevel: 'error',
      ssr: { noExternal: true },
      build: {
        target: 'es2022',
        minify: false,
        outDir: folder,
        ssr: join(source, 'index.ts'),
        rolldownOptions: {
          output: {
            preserveModules: true,
            preserveModulesRoot: source,
            entryFileNames: '[name].mjs',
          },
        },
      },
    });
    execFileSync(
      process.execPath,
      [join(here, 'build-first.mjs'), pathToFileURL(join(folder, 'index.mjs')).href],
      {
        env: { ...process.env, NODE_V8_COVERAGE: join(folder, 'coverage') },
      },
    );
    const [name = ''] = readdirSync(join(folder, 'coverage'));
    const { result } = JSON.parse(readFileSync(join(folder, 'coverage', name), 'utf8')) as Coverage;
    return new Map(
      result.flatMap(({ url, functions }) => {
        if (!url.startsWith('file:')) return [];
        const file = relative(folder, fileURLToPath(url)).replace(/\.mjs$/, '.ts');
        const called = functions.filter(({ ranges: [whole] }) => (whole?.count ?? 0) > 0);
        return [[file, new Set(called.map(({ functionName }) => functionName))] as const];
      }),
    );
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The ends of a text's lines alone. */
export const linesOf = (text: string): string => text.replace(/[^\n]/g, '');

/** A part of a source's tree. */
interface Node {
  readonly type: string;
  readonly start: number;
  readonly end: number;
  readonly [key: string]: unknown;
}

/** Shorter functions stay where they are: what calls them would be as long. */
const short = 100;

/** A statement of a source. */
interface Statement {
  readonly node: Node;
  /** What it declares. */
  readonly declared: Node;
  readonly names: readonly string[];
  readonly isExported: boolean;
  /** Every name in it. */
  readonly mentions: ReadonlySet<string>;
}

/** A source in two: what a test needs first, and functions that are loaded when they are called. */
export interface Halves {
  readonly first: string;
  readonly later: string;
  /** The functions that are loaded later. */
  readonly moved: ReadonlySet<string>;
}

/**
 * Splits a source. Every line stays where it is, in both halves.
 *
 * @param needed the names of functions that are needed first
 * @param from how the second half imports the first, and the first the second
 */
export function halves(
  code: string,
  needed: ReadonlySet<string>,
  from: { readonly first: string; readonly later: string },
): Halves | undefined {
  const statements = (parseSync('source.ts', code).program.body as unknown as Node[]).map(
    statementOf,
  );
  const values = statements.filter(({ declared: { type } }) => !/^(?:TS|Import|Export)/.test(type));
  const changing = new Set(
    values.flatMap(({ declared, names }) => (declared['kind'] === 'let' ? names : [])),
  );
  const isMovable = ({ declared, names: [name = ''], mentions }: Statement): boolean =>
    declared.type === 'FunctionDeclaration' &&
    !needed.has(name) &&
    !mentions.has('this') &&
    ![...mentions].some((each) => changing.has(each));
  const moving = new Set(values.filter(isMovable));
  for (let before = -1; before !== moving.size; ) {
    before = moving.size;
    const near = mentionedBy(values.filter((each) => !moving.has(each)));
    for (const each of moving)
      if (
        each.node.end - each.node.start < short &&
        (each.isExported || near.has(each.names[0] ?? ''))
      )
        moving.delete(each);
  }
  if (moving.size === 0) return undefined;
  const staying = values.filter((each) => !moving.has(each));
  const near = mentionedBy(staying);
  const mentioned = mentionedBy([...moving]);
  const moved = new Set([...moving].flatMap(({ names }) => names));

  let first = '';
  let later = '';
  let at = 0;
  for (const statement of statements) {
    const {
      node,
      declared,
      names: [name = ''],
      isExported,
    } = statement;
    const [gap, text] = [code.slice(at, node.start), code.slice(node.start, node.end)];
    at = node.end;
    later += linesOf(gap);
    first += gap;
    if (moving.has(statement)) {
      first += linesOf(text);
      later += isExported ? text : `export ${text}`;
    } else if (declared.type === 'ImportDeclaration') {
      first += text;
      later += importOf(declared, text, mentioned) ?? linesOf(text);
    } else if (declared.type === 'TSDeclareFunction' && moved.has(name)) {
      first += linesOf(text);
      later += linesOf(text);
    } else {
      first += text;
      later += linesOf(text);
    }
  }
  const listed = (names: readonly string[]) => `{ ${names.join(', ')} }`;
  const own = staying.flatMap(({ names }) => names).filter((name) => mentioned.has(name));
  const known = exportedBy(staying);
  const shared = [...exportedBy([...moving]), ...own.filter((name) => !known.includes(name))];
  const called = [...moved].filter((name) => near.has(name) || shared.includes(name));
  const before = own.length === 0 ? '' : `import ${listed(own)} from '${from.first}'; `;
  const after = `import ${listed(called)} from '${from.later}'; export ${listed(shared)};`;
  return { first: `${first}${code.slice(at)}\n${after}`, later: `${before}${later}`, moved };
}

function exportedBy(statements: readonly Statement[]): readonly string[] {
  return statements.flatMap(({ names, isExported }) => (isExported ? names : []));
}

function mentionedBy(statements: readonly Statement[]): ReadonlySet<string> {
  return new Set(statements.flatMap(({ mentions }) => [...mentions]));
}

function statementOf(node: Node): Statement {
  const isExported = node.type === 'ExportNamedDeclaration' && node['declaration'] !== null;
  const declared = (isExported ? node['declaration'] : node) as Node;
  const named = (declared['declarations'] as Node[] | undefined) ?? [declared];
  const names = named.flatMap(({ id }) => namesIn(id as Node | null));
  const mentions = new Set<string>();
  const visit = (part: unknown): void => {
    if (Array.isArray(part)) for (const each of part) visit(each);
    if (typeof part !== 'object' || part === null || Array.isArray(part)) return;
    const { type, name } = part as { readonly type?: string; readonly name?: unknown };
    if (type === 'Identifier' && typeof name === 'string') mentions.add(name);
    if (type === 'ThisExpression') mentions.add('this');
    for (const [key, below] of Object.entries(part))
      if (!(key === 'id' && part === declared)) visit(below);
  };
  visit(declared);
  return { node, declared, names, isExported, mentions };
}

/** The names that a declaration's pattern gives. */
function namesIn(pattern: Node | null | undefined): readonly string[] {
  if (!pattern) return [];
  if (pattern.type === 'Identifier') return [String(pattern['name'])];
  const parts = (pattern['properties'] ?? pattern['elements'] ?? []) as readonly (Node | null)[];
  return parts.flatMap((part) =>
    namesIn((part?.['value'] ?? part?.['argument'] ?? part) as Node | null),
  );
}

/** An import of the names that are mentioned alone, on as many lines. */
function importOf(
  declared: Node,
  text: string,
  mentioned: ReadonlySet<string>,
): string | undefined {
  if (declared['importKind'] === 'type') return undefined;
  const names = (declared['specifiers'] as Node[]).flatMap((each) => {
    const [local, imported] = [each['local'], each['imported']] as [Node, Node | undefined];
    if (each['importKind'] === 'type' || !mentioned.has(String(local['name']))) return [];
    const [one, other] = [String(imported?.['name']), String(local['name'])];
    return [one === other ? one : `${one} as ${other}`];
  });
  if (names.length === 0) return undefined;
  const from = (declared['source'] as Node)['value'];
  return `import { ${names.join(', ')} } from '${String(from)}';${linesOf(text)}`;
}
