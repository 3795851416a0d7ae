import {
  type AnyNode,
  type CallExpression,
  type Literal,
  type MemberExpression,
  parse as parseTree,
  tokenizer,
} from 'acorn';
import { ImportType } from 'es-module-lexer';
import { blank, type Edit, edited } from './edits.ts';
import { factoryName, freshQuery } from './import-again.ts';
import { defaultEdits, defaultName, readModule } from './prepare.ts';

/**
 * Prepares the places that load a module once more: `importAgain(() => import('./set-up.ts'))` asks for the
 * module as a factory.
 *
 * @returns `undefined` if there is no such place
 */
export function prepareCalls(code: string): string | undefined {
  if (!/importAgain|importFresh/.test(code)) return undefined;
  const read = readModule(code);
  if (read === undefined) return undefined;
  const [imports] = read;
  const names = imports
    .filter(({ n, t }) => n === 'ekkon/seams' && t === ImportType.Static)
    .flatMap(({ ss, s }) => localNames(code.slice(ss, s)));
  if (names.length === 0) return undefined;
  const edits = loadedIn(code, names).map(({ value, end }): Edit => {
    const text = `${value.includes('?') ? '&' : '?'}${freshQuery}`;
    return { from: end - 1, to: end - 1, text };
  });
  return edits.length === 0 ? undefined : edited(code, edits);
}

function localNames(clause: string): readonly string[] {
  return [...clause.matchAll(/\b(importAgain|importFresh)(?:\s+as\s+([\w$]+))?/g)].map(
    ([, name = '', alias]) => alias ?? name,
  );
}

/** The literals that are imported by functions which one of some names is called with, and do nothing else. */
function loadedIn(code: string, names: readonly string[]): readonly TextLiteral[] {
  const found: TextLiteral[] = [];
  const visit = (node: unknown): void => {
    if (typeof node !== 'object' || node === null) return;
    for (const part of Object.values(node)) visit(part);
    if (!('type' in node) || node.type !== 'CallExpression') return;
    const { callee, arguments: given } = node as CallExpression;
    if (callee.type !== 'Identifier' || !names.includes(callee.name)) return;
    const loaded = returnedBy(given[0]);
    if (loaded?.type === 'ImportExpression' && isText(loaded.source)) found.push(loaded.source);
  };
  try {
    visit(parseTree(code, { ecmaVersion: 'latest', sourceType: 'module', allowHashBang: true }));
  } catch {
    // Syntax newer than the parser: `importAgain` says that it was not prepared.
  }
  return found;
}

type TextLiteral = Literal & { value: string };

function isText(node: AnyNode): node is TextLiteral {
  return node.type === 'Literal' && typeof node.value === 'string';
}

/** The value that a function returns, if it does nothing else. */
function returnedBy(made: AnyNode | undefined): AnyNode | undefined {
  if (made?.type !== 'ArrowFunctionExpression' && made?.type !== 'FunctionExpression')
    return undefined;
  const { body } = made;
  const isBlock = body.type === 'BlockStatement';
  if (isBlock && body.body.length !== 1) return undefined;
  const only: AnyNode | undefined = isBlock ? body.body[0] : body;
  const returned = only?.type === 'ReturnStatement' ? only.argument : only;
  const given = returned?.type === 'AwaitExpression' ? returned.argument : (returned ?? undefined);
  // Loaders that compile modules put `.then(…)` behind an import.
  const isChained = given?.type === 'CallExpression' && given.callee.type === 'MemberExpression';
  return isChained ? (given.callee as MemberExpression).object : given;
}

/**
 * Makes a module a factory: its imports stay outside and are shared; its body becomes an asynchronous function that
 * runs at each call and returns the module's exports. No line moves.
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
  const tokens = [...tokenizer(text, { ecmaVersion: 'latest', sourceType: 'module' })];
  return `${tokens.map(({ start, end }) => text.slice(start, end)).join(' ')};`;
}
