import { shortValue } from '../notation/value.ts';
import { refuse } from '../value/refuse.ts';

/** Marks an import as one of a factory. */
export const freshQuery = 'ekkon-fresh';

/** The export of such a module: a function that runs the module's body and returns its exports. */
export const factoryName = '$ekkonFresh';

type Exported = readonly [name: string, read: () => unknown];
type Factory = () => Promise<readonly [own: readonly Exported[], stars: readonly object[]]>;

/**
 * Loads a module once more, for a module that does something when it is imported. The modules that it imports are not
 * loaded again.
 *
 * Write the import inside the call, with a literal: `seams()` from `ekkon/vite` prepares it in Vite and Vitest, and
 * `node --import ekkon/seams` in Node.
 *
 * @param load imports the module
 * @returns the new exports; rejects with the error of the module's body
 * @throws TypeError (as a rejection) if the call was not prepared
 * @example
 * import { importAgain } from 'ekkon/seams';
 *
 * ledger.takeOver(globalThis, 'defineDevice', { absent: true });
 * await importAgain(() => import('../src/cooling-plugin.ts'));
 */
export async function importAgain<M>(load: () => Promise<M>): Promise<M> {
  if (typeof load !== 'function') {
    refuse(
      `importAgain() takes a function that imports, and was given ${shortValue(load)}. Write importAgain(() => import('../src/set-up.ts')).`,
      importAgain,
    );
  }
  const loaded = (await load()) as { readonly [factoryName]?: Factory } | undefined;
  const factory = loaded?.[factoryName];
  if (factory === undefined) {
    refuse(
      "importAgain(): this call was not prepared, so the module was not loaded again. Write the import with a literal inside the call, importAgain(() => import('../src/set-up.ts')), and add seams() from 'ekkon/vite' to the plugins, or under Node start with --import ekkon/seams. Packages cannot be loaded once more.",
      importAgain,
    );
  }
  const [own, stars] = await factory();
  return namespaceOf(own, stars) as M;
}

/**
 * The name that `importAgain` had before.
 *
 * @deprecated use `importAgain`
 */
export const importFresh: typeof importAgain = importAgain;

/** The namespace of an import: exports as accessors, own ones before those of `export *`. */
function namespaceOf(own: readonly Exported[], stars: readonly object[]): object {
  const namespace = Object.create(null, { [Symbol.toStringTag]: { value: 'Module' } });
  const define = (name: string, get: () => unknown) => {
    if (!Object.hasOwn(namespace, name))
      Object.defineProperty(namespace, name, { get, enumerable: true, configurable: true });
  };
  for (const [name, read] of own) define(name, read);
  for (const star of stars) {
    for (const name of Object.keys(star)) {
      if (name !== 'default') define(name, () => Reflect.get(star, name));
    }
  }
  return namespace;
}
