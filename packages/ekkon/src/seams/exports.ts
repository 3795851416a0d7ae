import { type Program, parse as parseTree, tokenizer, tokTypes } from 'acorn';
import { type ExportSpecifier, type ImportSpecifier, ImportType } from 'es-module-lexer';
import { afterGap, afterWord } from './scan.ts';

/** A module's exports of its own variables, and where a constant must become a variable for that. */
export interface LocalExports {
  /** The name that importers use, and that of the variable. */
  readonly names: readonly (readonly [exported: string, local: string])[];
  /** Where the word `const` stands that has to become `let`. */
  readonly constants: readonly number[];
}

/**
 * A module's exports of its own variables, without those that it takes from other modules.
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
    const at = afterGap(code, ss + 'export'.length);
    if (code[at] === '{') unclear.add(ln);
    else if (afterWord(code, at, 'const') !== undefined) constants.add(at);
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

/** The names in a list of exports, from the syntax tree: only the tree shows where a variable is declared. */
function byTree(
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

/** The names that a module's imports bind: those before a comma, a closing brace or `from`. */
function importedNames(code: string, imports: readonly ImportSpecifier[]): ReadonlySet<string> {
  const names = new Set<string>();
  for (const { t, ss, s } of imports) {
    if (t === ImportType.Dynamic || t === ImportType.ImportMeta) continue;
    let before: string | undefined;
    // Without the quotation mark of the specifier.
    const clause = code.slice(ss, s - 1);
    for (const { type, start, end } of tokenizer(clause, { ecmaVersion: 'latest' })) {
      const word = clause.slice(start, end);
      if (before !== undefined && [',', '}', 'from'].includes(word)) names.add(before);
      before = type === tokTypes.name ? word : undefined;
    }
  }
  return names;
}
