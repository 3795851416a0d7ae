/**
 * What gives Node's modules by their names; `undefined` where there are none, as in a browser. They are asked for at run
 * time, so that a bundler for browsers finds nothing that it has to leave out.
 */
export function builtinModules(): NodeJS.Process['getBuiltinModule'] | undefined {
  const { process } = globalThis as { readonly process?: NodeJS.Process };
  return process?.getBuiltinModule;
}
