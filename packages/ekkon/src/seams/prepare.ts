import { type ExportSpecifier, initSync, parse } from 'es-module-lexer';
import { registryName } from '../observe/seam.ts';
import { blank, type Edit, edited } from './edits.ts';
import { localExports } from './exports.ts';
import { afterGap, afterWord } from './scan.ts';

initSync();

/** The variable for a default export: its name is as long as `export default`, so no column moves. */
export const defaultName = '$ekkon_d';

/**
 * Prepares a module so that its exports can be replaced: every exported variable becomes assignable, and a line at
 * its end registers how to read and set each. No line moves and no import is added, so stack traces stay right.
 *
 * @param code the module's source as the platform reads it, without types
 * @param id the module's name in the registry: its path, as a reader would write it
 * @returns `undefined` if there is nothing to replace, or if the source cannot be read
 */
export function prepareModule(code: string, id: string): string | undefined {
  if (!code.includes('export') || code.includes(`["${registryName}"]`)) return undefined;
  const read = readModule(code);
  if (read === undefined) return undefined;
  const [imports, exports] = read;
  const { names, constants } = localExports(code, imports, exports);
  const edits: Edit[] = constants.map((at) => ({ from: at, to: at + 5, text: 'let  ' }));
  const given = defaultEdits(code, exports);
  const all = given.length === 0 ? names : [...names, ['default', defaultName] as const];
  if (all.length === 0) return undefined;
  const exported = given.length === 0 ? '' : exportDefault;
  // It is not the user's code, so coverage leaves it out.
  return `${edited(code, [...edits, ...given])}\n/* v8 ignore start */${exported}${registration(all, id)}`;
}

/** A module's imports and exports; `undefined` if it cannot be read. */
export function readModule(code: string): ReturnType<typeof parse> | undefined {
  try {
    const [imports, exports, ...more] = parse(code);
    return [imports, exports.map(withOwnName), ...more];
  } catch {
    // Code that is not JavaScript yet, or not any more, stays as it is.
    return undefined;
  }
}

/** A class without a name that extends another one is not a class of the name `extends`. */
function withOwnName(specifier: ExportSpecifier): ExportSpecifier {
  return specifier.ln === 'extends' ? { ...specifier, ln: undefined } : specifier;
}

/** Exports the variable, and gives it the name that it has without us if it has none of its own. */
const exportDefault = `export { ${defaultName} as default };/* istanbul ignore next */if (typeof ${defaultName} === "function" && ${defaultName}.name === "${defaultName}") globalThis.Object.defineProperty(${defaultName}, "name", { value: "default", configurable: true });`;

/** How the module tells where its exports can be read and set. Its own names may hide the platform's. */
export function registration(names: readonly (readonly [string, string])[], id: string): string {
  const slots = names.map(
    ([exported, local]) =>
      `[${JSON.stringify(exported)}, () => ${local}, ($ekkon_v) => { ${local} = $ekkon_v; }]`,
  );
  return `;/* istanbul ignore next */(globalThis["${registryName}"] ??= { __proto__: null })[${JSON.stringify(id)}] = [${slots.join(', ')}];/* v8 ignore stop */\n`;
}

/**
 * The edits that turn a default export without a name into a variable. Functions and classes stay declarations, so
 * they are hoisted and end where they end.
 */
export function defaultEdits(code: string, exports: readonly ExportSpecifier[]): readonly Edit[] {
  const found = exports.find(({ n, ln, s, ss }) => n === 'default' && ln === undefined && s > ss);
  if (found === undefined) return [];
  const { ss, e } = found;
  const word = afterGap(code, ss + 'export'.length);
  if (afterWord(code, word, 'default') !== e) return [];
  const at = unnamedDeclaration(code, afterGap(code, e));
  if (at === undefined) return [{ from: ss, to: e, text: `let ${defaultName} =` }];
  return [
    { from: ss, to: e, text: blank(code.slice(ss, e)) },
    { from: at, to: at, text: ` ${defaultName}` },
  ];
}

/** Where a function or a class without a name, declared at a place, would have its name; `undefined` if none is. */
function unnamedDeclaration(code: string, at: number): number | undefined {
  const ofClass = afterWord(code, at, 'class');
  if (ofClass !== undefined) {
    const next = afterGap(code, ofClass);
    const isUnnamed = code[next] === '{' || afterWord(code, next, 'extends') !== undefined;
    return isUnnamed ? ofClass : undefined;
  }
  const ofAsync = afterWord(code, at, 'async');
  const start = ofAsync === undefined ? at : afterGap(code, ofAsync);
  const ofFunction = afterWord(code, start, 'function');
  if (ofFunction === undefined) return undefined;
  const next = afterGap(code, ofFunction);
  const name = code[next] === '*' ? next + 1 : ofFunction;
  return code[afterGap(code, name)] === '(' ? name : undefined;
}
