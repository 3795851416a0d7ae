import { type Program, parse as parseTree } from 'acorn';
import { type ExportSpecifier, type ImportSpecifier, ImportType } from 'es-module-lexer';

/** What a module exports from its own variables, and where a constant has to become a variable for that. */
export interface LocalExports {
  /** The name that importers use, and that of the variable. */
  readonly names: readonly (readonly [exported: string, local: string])[];
  /** Where the word `const` stands that has to become `let`. */
  readonly constants: readonly number[];
}

/**
 * The exports of a module that are variables of its own: not what it takes from other modules.
 *
 * @param code the module's source as the platform reads it, without types
 */
export function localExports(
  code: string,
  imports: readonly ImportSpecifier[],
  exports: readonly ExportSpecifier[],
): LocalExports {
  const taken = importedNames(code, imports);
  const own = exports.filter(({ ln }) => ln !== undefined && !taken.has(ln));
  const constants = new Set<number>();
  const unclear = new Set<string>();
  for (const { ln = '', ss } of own) {
    const isInPlace = !/^export\s*\{/.test(code.slice(ss, ss + 40));
    const found = isInPlace ? inPlace(code, ss) : byLine(code, ln);
    if (found === undefined) unclear.add(ln);
    else if (found >= 0) constants.add(found);
  }
  const rest = unclear.size === 0 ? nothingMore : byTree(code, unclear);
  for (const at of rest.constants) constants.add(at);
  return {
    names: own
      .filter(({ ln = '' }) => !rest.unknown.has(ln))
      .map(({ n, ln = '' }) => [n, ln] as const),
    constants: [...constants],
  };
}

const nothingMore: { constants: readonly number[]; unknown: ReadonlySet<string> } = {
  constants: [],
  unknown: new Set(),
};

/** `export const …`: where `const` stands; -1 if what is declared there can be assigned. */
function inPlace(code: string, start: number): number | undefined {
  const found = /^export(?:\s|\/\*[\s\S]*?\*\/)*(const\b|default\b|[a-z]+\b)/.exec(
    code.slice(start, start + 200),
  );
  if (found === null) return undefined;
  return found[1] === 'const' ? start + found[0].length - 'const'.length : -1;
}

/**
 * Where `const` stands before a name that is declared at the beginning of a line, and nowhere else by a word of
 * its own; -1 if it is declared so that it can be assigned; `undefined` if it takes a tree to tell.
 */
function byLine(code: string, name: string): number | undefined {
  const escaped = name.replaceAll('$', '\\$');
  const declared = new RegExp(
    `(?<![\\w$.])(?:async\\s+)?(const|let|var|class|function\\s*\\*?)\\s*(?<=[\\s*])${escaped}(?![\\w$])`,
    'g',
  );
  const all = [...code.matchAll(declared)];
  const [found] = all;
  if (found === undefined || all.length > 1) return undefined;
  const isOutermost = found.index === 0 || code[found.index - 1] === '\n';
  if (!isOutermost) return undefined;
  return found[1] === 'const' ? found.index : -1;
}

/** The same from the syntax tree, which is some twenty times slower. */
export function byTree(
  code: string,
  names: ReadonlySet<string>,
): { readonly constants: readonly number[]; readonly unknown: ReadonlySet<string> } {
  let tree: Program;
  try {
    tree = parseTree(code, { ecmaVersion: 'latest', sourceType: 'module', allowHashBang: true });
  } catch {
    // Syntax newer than the parser: these exports have no seam, and a take-over of them says so.
    return { constants: [], unknown: names };
  }
  const unknown = new Set(names);
  const constants: number[] = [];
  for (const statement of tree.body) {
    const declaration =
      statement.type === 'ExportNamedDeclaration' ? statement.declaration : statement;
    if (declaration === null || declaration === undefined) continue;
    if (
      declaration.type === 'FunctionDeclaration' ||
      declaration.type === 'ClassDeclaration' ||
      declaration.type === 'ExportDefaultDeclaration'
    ) {
      const named =
        declaration.type === 'ExportDefaultDeclaration' ? declaration.declaration : declaration;
      if ('id' in named && named.id?.type === 'Identifier') unknown.delete(named.id.name);
    }
    if (declaration.type !== 'VariableDeclaration') continue;
    const held = declaration.declarations.flatMap(({ id }) => boundNames(id));
    const wanted = held.filter((name) => unknown.delete(name) || names.has(name));
    if (wanted.length > 0 && declaration.kind === 'const') constants.push(declaration.start);
  }
  return { constants, unknown };
}

/** A part of a syntax tree, of which only the type is known. */
type Part = { readonly type: string } & Readonly<Record<string, unknown>>;

/** The names that a pattern of a declaration binds. */
function boundNames(pattern: unknown): readonly string[] {
  const part = pattern as Part | null;
  switch (part?.type) {
    case 'Identifier':
      return [part.name as string];
    case 'ObjectPattern':
      return (part.properties as readonly Part[]).flatMap((property) =>
        boundNames(property.type === 'RestElement' ? property : property.value),
      );
    case 'ArrayPattern':
      return (part.elements as readonly unknown[]).flatMap(boundNames);
    case 'RestElement':
      return boundNames(part.argument);
    case 'AssignmentPattern':
      return boundNames(part.left);
    default:
      return [];
  }
}

/** The names that a module's imports bind. */
function importedNames(code: string, imports: readonly ImportSpecifier[]): ReadonlySet<string> {
  const names = new Set<string>();
  for (const { t, ss, s } of imports) {
    if (t === ImportType.Dynamic || t === ImportType.ImportMeta) continue;
    const clause = code.slice(ss, s).replace(/\/\*[\s\S]*?\*\/|\/\/[^\n]*/g, ' ');
    if (!clause.startsWith('import')) continue;
    for (const [, name = ''] of clause.matchAll(/([\w$\u0080-\uffff]+)\s*(?=[,}]|from\b)/g))
      names.add(name);
  }
  return names;
}
