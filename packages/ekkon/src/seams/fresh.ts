import { parse as parseTree } from 'acorn';
import { type ImportSpecifier, ImportType } from 'es-module-lexer';
import { blank, type Edit, edited } from './edits.ts';
import { factoryName, freshQuery } from './import-fresh.ts';
import { defaultEdits, defaultName, readModule } from './prepare.ts';

/**
 * Prepares the places that load a module once more: `importFresh(() => import('./set-up.ts'))` asks for the
 * module as a factory.
 *
 * @returns `undefined` if there is no such place
 */
export function prepareCalls(code: string): string | undefined {
  if (!code.includes('importFresh')) return undefined;
  const read = readModule(code);
  if (read === undefined) return undefined;
  const [imports] = read;
  const names = imports
    .filter(({ n, t }) => n === 'ekkon/seams' && t === ImportType.Static)
    .flatMap(({ ss, s }) => localNames(code.slice(ss, s)));
  const edits = imports
    .filter((each) => each.t === ImportType.Dynamic && isLoaded(code, each, names))
    .map(({ n = '', e }): Edit => {
      const text = `${n.includes('?') ? '&' : '?'}${freshQuery}`;
      return { from: e - 1, to: e - 1, text };
    });
  return edits.length === 0 ? undefined : edited(code, edits);
}

function localNames(clause: string): readonly string[] {
  return [...clause.matchAll(/\bimportFresh(?:\s+as\s+([\w$]+))?/g)].map(
    ([, alias]) => alias ?? 'importFresh',
  );
}

/** Whether an import with a literal stands as the whole of what `importFresh` is given. */
function isLoaded(code: string, { n, ss }: ImportSpecifier, names: readonly string[]): boolean {
  const before = code.slice(Math.max(0, ss - 200), ss);
  const call =
    /([\w$]+)\s*\(\s*(?:async\s*)?(?:\(\s*\)\s*=>|function\s*\(\s*\))\s*(?:\{\s*return\s+)?(?:await\s+)?\(?\s*$/;
  const called = call.exec(before)?.[1];
  return n !== undefined && called !== undefined && names.includes(called);
}

/**
 * Makes a module a factory: its imports stay outside and are shared, its body becomes an asynchronous function
 * that runs once more at each call, and gives what the module exports. No line moves.
 *
 * @param code the module's source as the platform reads it, without types
 * @throws SyntaxError if the source cannot be read
 */
export function makeFactory(code: string): string {
  const source = edited(code, defaultEdits(code, readModule(code)?.[1] ?? []));
  const exports = readModule(source)?.[1] ?? [];
  const hasDefault = source !== code;
  const tree = parseTree(source, {
    ecmaVersion: 'latest',
    sourceType: 'module',
    allowHashBang: true,
  });
  const outside: string[] = [];
  const given: string[] = hasDefault ? [`["default", () => ${defaultName}]`] : [];
  const stars: string[] = [];
  const edits: Edit[] = [];
  const take = (from: number, to: number) =>
    edits.push({ from, to, text: blank(source.slice(from, to)) });
  const textOf = ({ start, end }: { start: number; end: number }) => source.slice(start, end);

  /** Where a statement takes from, with its attributes. */
  const origin = (statement: {
    readonly source: { readonly start: number };
    readonly end: number;
  }) => source.slice(statement.source.start, statement.end).replace(/;\s*$/, '');

  for (const statement of tree.body) {
    const { start, end } = statement;
    switch (statement.type) {
      case 'ImportDeclaration':
        outside.push(oneLine(textOf(statement)));
        take(start, end);
        break;
      case 'ExportAllDeclaration': {
        const name = `$ekkon_s${start}`;
        outside.push(`import * as ${name} from ${origin(statement)};`);
        if (statement.exported === null || statement.exported === undefined) stars.push(name);
        else given.push(`[${JSON.stringify(exportedName(statement.exported))}, () => ${name}]`);
        take(start, end);
        break;
      }
      case 'ExportNamedDeclaration': {
        if (statement.declaration !== null && statement.declaration !== undefined) {
          take(start, statement.declaration.start);
          for (const [exported, local] of declaredBy(exports, start))
            given.push(`[${JSON.stringify(exported)}, () => ${local}]`);
          break;
        }
        const { source: from } = statement;
        for (const { local, exported } of statement.specifiers) {
          const name = JSON.stringify(exportedName(exported));
          if (from === null || from === undefined) {
            given.push(`[${name}, () => ${exportedName(local)}]`);
            continue;
          }
          const taken = `$ekkon_s${local.start}`;
          outside.push(
            `import { ${textOf(local)} as ${taken} } from ${origin({ source: from, end })};`,
          );
          given.push(`[${name}, () => ${taken}]`);
        }
        take(start, end);
        break;
      }
      case 'ExportDefaultDeclaration': {
        const { declaration } = statement;
        const local =
          'id' in declaration && declaration.id?.type === 'Identifier'
            ? declaration.id.name
            : defaultName;
        given.push(`["default", () => ${local}]`);
        take(start, declaration.start);
        break;
      }
      default:
    }
  }
  const shebang = /^#![^\n]*/.exec(source)?.[0] ?? '';
  if (shebang !== '') take(0, shebang.length);
  const head = `${outside.join(' ')} export const ${factoryName} = async () => { `;
  const tail = `\nreturn [[${given.join(', ')}], [${stars.join(', ')}]]; };\n`;
  return `${head}${edited(source, edits)}${tail}`;
}

type Exports = NonNullable<ReturnType<typeof readModule>>[1];

/** The names that one export statement declares. */
function declaredBy(exports: Exports, start: number): readonly (readonly [string, string])[] {
  return exports.flatMap(({ n, ln, ss }) =>
    ss === start && ln !== undefined ? [[n, ln] as const] : [],
  );
}

function exportedName(name: {
  readonly type: string;
  readonly name?: string;
  readonly value?: unknown;
}): string {
  return name.type === 'Identifier' ? (name.name ?? '') : String(name.value);
}

/** An import in one line, without comments: the lines below it must not move. */
function oneLine(text: string): string {
  return `${text.replace(/\/\*[\s\S]*?\*\/|\/\/[^\n]*/g, ' ').replace(/\s+/g, ' ')};`;
}
