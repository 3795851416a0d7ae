/**
 * Loads Node's modules by their names; `undefined` where there are none, as in a browser. They are loaded at run
 * time, so a bundler for browsers finds nothing to leave out.
 */
export function builtinModules(): NodeJS.Process['getBuiltinModule'] | undefined {
  const { process } = globalThis as { readonly process?: NodeJS.Process };
  return process?.getBuiltinModule;
}
