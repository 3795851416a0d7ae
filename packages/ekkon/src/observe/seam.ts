import { withoutQuery } from '../value/without-query.ts';
import { platformModule } from './platform-module.ts';

/** A place in which an export of a module stands, for everybody who imports it. */
export interface Seam {
  /** The name of the module in labels. */
  readonly module: string;
  /** Whether the platform calls the value as well; such a call is not one of the code under test. */
  readonly isPlatform: boolean;
  /** The current value. */
  read(): unknown;
  put(value: unknown): void;
  /** Restores the original value, exactly as it was. */
  putBack(): void;
}

/** One export of a module that was prepared: how to read it, and how to set it. */
type Slot = readonly [name: string, read: () => unknown, set: (value: unknown) => void];

/** Where prepared modules register their exports: `seams/transform.ts` writes the line that does. */
export const registryName = 'ekkon seams';

type Registry = Readonly<Record<string, readonly Slot[]>>;

/** Whether an object is a module's namespace, as `import * as tariff` returns it. */
export function isNamespace(target: object): boolean {
  // Some bundlers give theirs a prototype.
  return Object.getOwnPropertyDescriptor(target, Symbol.toStringTag)?.value === 'Module';
}

/**
 * The place at which a module's exported function can be replaced for its importers; `undefined` if there is none.
 *
 * @param real the current export
 */
export function seamOf(namespace: object, key: PropertyKey, real: unknown): Seam | undefined {
  return (
    registeredSeam(namespace, key, real) ??
    accessorSeam(namespace, key, real) ??
    (copiesImports() ? undefined : platformModule(namespace)?.seam(key, real))
  );
}

/**
 * Whether modules get copies of their imports from the platform, as Vitest gives them in its DOM environments: a
 * replacement would not reach modules that are already loaded.
 */
function copiesImports(): boolean {
  const { process, document } = globalThis as {
    readonly process?: { readonly env?: Readonly<Record<string, string | undefined>> };
    readonly document?: unknown;
  };
  return process?.env?.['VITEST'] !== undefined && document !== undefined;
}

/**
 * The seam of a prepared module is found by looking: the one that holds the value, and through which another
 * one shows on the namespace. So it does not matter by how many barrels and names the export came.
 */
function registeredSeam(namespace: object, key: PropertyKey, real: unknown): Seam | undefined {
  const registry = (globalThis as { readonly [registryName]?: Registry })[registryName] ?? {};
  for (const [module, slots] of Object.entries(registry).reverse()) {
    for (const [, read, set] of slots) {
      if (valueNow(read) !== real || !shows(namespace, key, real, set)) continue;
      return {
        module: moduleName(module),
        isPlatform: false,
        read,
        put: set,
        putBack: () => set(real),
      };
    }
  }
  return undefined;
}

function shows(
  namespace: object,
  key: PropertyKey,
  real: unknown,
  set: (value: unknown) => void,
): boolean {
  const probe = () => {};
  try {
    set(probe);
    return Reflect.get(namespace, key) === probe;
  } catch {
    // It could not be made assignable: a constant that was declared in an unusual way.
    return false;
  } finally {
    setQuietly(set, real);
  }
}

function setQuietly(set: (value: unknown) => void, real: unknown): void {
  try {
    set(real);
  } catch {
    // It was not set before either.
  }
}

function valueNow(read: () => unknown): unknown {
  try {
    return read();
  } catch {
    // A class or a constant of a module that is still being evaluated.
    return undefined;
  }
}

/** Runners that evaluate modules themselves give namespaces whose exports are accessors that can be replaced. */
function accessorSeam(namespace: object, key: PropertyKey, real: unknown): Seam | undefined {
  const own = Object.getOwnPropertyDescriptor(namespace, key);
  if (own?.get === undefined || own.configurable !== true) return undefined;
  const put = (value: unknown) =>
    Object.defineProperty(namespace, key, {
      ...own,
      get: () => value,
    });
  const putBack = () => {
    Object.defineProperty(namespace, key, own);
  };
  const read = () => Reflect.get(namespace, key);
  return read() === real
    ? { module: nameByDefault(namespace), isPlatform: false, read, put, putBack }
    : undefined;
}

/** The name of a module of which only the namespace is known: after its default export. */
function nameByDefault(namespace: object): string {
  const exported = valueNow(() => Reflect.get(namespace, 'default'));
  const name = typeof exported === 'function' ? exported.name : '';
  return name === '' || name === 'default' ? 'module' : name;
}

/** The name of a module: its file's, its folder's if that says nothing, or its package's. */
function moduleName(id: string): string {
  const parts = withoutQuery(id).split('/');
  const file = parts.at(-1) ?? id;
  if (!/\.[cm]?[jt]sx?$/.test(file)) return id;
  const name = file.replace(/(?:\.min)?\.[^.]+$/, '');
  const root = parts.lastIndexOf('node_modules') + 1;
  if (root > 0) return packageModuleName(parts.slice(root, -1), name);
  return name === 'index' ? (parts.at(-2) ?? name) : name;
}

/** Folders and files of packages whose names say nothing. */
const inPackages: ReadonlySet<string> = new Set(
  'build cjs dist es esm index lib main mjs module source src'.split(' '),
);

/** The name of a package's module: the package's, and its own if that differs. */
function packageModuleName(folders: readonly string[], name: string): string {
  const scope = folders[0]?.startsWith('@') === true ? 2 : 1;
  const own = folders.slice(0, scope);
  const inside = [...folders.slice(scope), name].filter((part) => !inPackages.has(part));
  return [...own, ...inside.filter((part) => part !== own.at(-1))].join('/');
}
