/** The part of Node's `process` that leads to its modules. */
interface ModuleSource {
  getBuiltinModule?(id: string): unknown;
  readonly moduleLoadList?: readonly string[];
}

// Taken at load, so that observing it records nothing of ours.
const source = (globalThis as { readonly process?: ModuleSource }).process;
const builtin = source?.getBuiltinModule?.bind(source);

/** What a module of Node exports, if it is loaded: asking for another one would load it. */
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
