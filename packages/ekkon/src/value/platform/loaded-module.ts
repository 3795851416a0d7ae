/** The part of Node's `process` that leads to its modules. */
interface ModuleSource {
  getBuiltinModule?(id: string): unknown;
  readonly moduleLoadList?: readonly string[];
}

// Taken at load, so observing it records no call of Ekkon's own.
const source = (globalThis as { readonly process?: ModuleSource }).process;
const builtin = source?.getBuiltinModule?.bind(source);

/** The exports of a Node module, if it is loaded: asking for another one would load it. */
export function loadedModule(id: string): unknown {
  return idsLoaded().includes(id) ? builtin?.(id) : undefined;
}

/** The modules of Node that are loaded. */
export function idsLoaded(): readonly string[] {
  if (builtin === undefined) return [];
  return (source?.moduleLoadList ?? []).flatMap((entry) => {
    const id = /^NativeModule (?!internal\/)(.+)$/.exec(entry)?.[1];
    return id === undefined || unwanted.has(id) ? [] : [id];
  });
}

/** Asking for these prints a warning that they are deprecated. */
const unwanted: ReadonlySet<string> = new Set(['punycode', 'sys', '_tls_common', '_tls_wrap']);
