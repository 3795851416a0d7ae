import { registration } from './prepare.ts';

/** The name of a wrapper's variable: its exports may have any name. */
const held = (at: number) => `$ekkon_w${at}`;

/**
 * The source of a module in front of another one that cannot be prepared itself; it exports the other's exports
 * through variables of its own.
 *
 * @param real the module to import
 * @param names its exports, with `default` if it has one
 * @param id its name in the registry
 */
export function wrapModule(real: string, names: readonly string[], id: string): string {
  const all = [...new Set(names)];
  const lines = [
    `import * as $ekkon_r from ${JSON.stringify(real)};`,
    ...all.map((name, at) => `let ${held(at)} = ${readFrom('$ekkon_r', name)};`),
  ];
  return [...lines, ...exportLines(all, id)].join('\n');
}

/** A CommonJS module's export of a name: from its default, where bundlers and platforms disagree. */
function readFrom(real: string, name: string): string {
  const key = JSON.stringify(name);
  return name === 'default' ? `${real}.default` : `${real}[${key}] ?? ${real}.default?.[${key}]`;
}

/**
 * The source of a module that exists only inside a framework: its exports throw until they are taken over.
 *
 * @param specifier the specifier of its imports
 */
export function absentModule(specifier: string, names: readonly string[]): string {
  const functions = names.map((name, at) => {
    const said = `${specifier} is absent in tests: ${name} was called before a ledger took it over. Write ledger.takeOver(…, '${name}') with the module's namespace.`;
    return `let ${held(at)} = function () { throw new Error(${JSON.stringify(said)}); };`;
  });
  return [...functions, ...exportLines(names, specifier)].join('\n');
}

function exportLines(names: readonly string[], id: string): readonly string[] {
  const exported = names.map((name, at) => `${held(at)} as ${JSON.stringify(name)}`);
  const slots = names.map((name, at) => [name, held(at)] as const);
  return [`export { ${exported.join(', ')} };`, registration(slots, id)];
}
