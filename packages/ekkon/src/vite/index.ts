import { readFileSync } from 'node:fs';
import { builtinModules } from 'node:module';
import { dirname, relative, resolve } from 'node:path';
import type { Plugin, ResolvedConfig, UserConfig } from 'vite';
import { writeSaved } from '../file/write-saved.ts';
import { saveCommand, settings, settingsKey } from '../ledger/setting.ts';
import type { PageRecord } from '../report/page-data.ts';
import { isCommonJs, namesOfCommonJs } from '../seams/common-js.ts';
import { edited } from '../seams/edits.ts';
import { makeFactory, prepareCalls } from '../seams/fresh.ts';
import { freshQuery } from '../seams/import-again.ts';
import {
  type HeldSeamOptions,
  packageOf,
  readSeamOptions,
  type SeamOptions,
} from '../seams/options.ts';
import { prepareModule, readModule } from '../seams/prepare.ts';
import { absentModule, wrapModule } from '../seams/wrap.ts';
import { withoutQuery } from '../value/without-query.ts';

export type { SeamOptions } from '../seams/options.ts';

/** Ids of modules that stand before others. Nothing in them needs to be escaped in an address. */
const wrapperId = '\0ekkon-seam:';
const platformPart = 'virtual:ekkon-seam/';
const absentId = '\0ekkon-absent:';

/**
 * A Vite plugin that lets `ledger.takeOver(namespace, 'name')` and `observe` replace a module's exports for every
 * importer, including the module itself, and prepares the calls of `importAgain`. It is active under Vitest and in
 * mode `test`, and never in a production build.
 *
 * The project's own modules need no option.
 *
 * @param options `of`: packages, and globs of modules, to make replaceable; `through`: packages whose own imports
 * of these should be reached too; `absent`: modules that exist only inside a framework, with their exports
 * @throws TypeError if an option is invalid, or if there is no such option
 * @example
 * // vitest.config.ts
 * import { seams } from 'ekkon/vite';
 * import { defineConfig } from 'vitest/config';
 *
 * export default defineConfig({
 *   plugins: [seams({ of: ['date-fns'], absent: { '#night': ['defineDevice'] } })],
 * });
 */
export function seams(options?: SeamOptions): { readonly name: string } {
  const held = readSeamOptions(options, seams);
  let config: ResolvedConfig | undefined;
  const isActive = () => config !== undefined && isForTests(config);
  const inNode = () => config !== undefined && isVitestInNode(config);
  const plugin: Plugin = {
    // Vite leaves nested plugins out of the key of its cache of packages, but not their names.
    name: `ekkon-seams${held.of.length === 0 ? '' : `:${held.of.join(',')}`}`,
    config: (user, { mode }) =>
      mode === 'test' || process.env.VITEST !== undefined ? configFor(user, held) : undefined,
    configResolved(resolved) {
      config = resolved;
    },
    resolveId: {
      order: 'pre',
      async handler(source, importer, { isEntry }) {
        if (!isActive() || importer === undefined || isEntry) return undefined;
        if (held.absent.has(source)) return `${absentId}${encodeURIComponent(source)}`;
        if (source.startsWith(wrapperId) || source.startsWith(absentId)) return source;
        if (source.startsWith(platformPart))
          return `${wrapperId}${encodeURIComponent(source.slice(platformPart.length))}`;
        const fresh = withoutFresh(source);
        if (fresh !== source) {
          const found = await this.resolve(fresh, importer);
          return found === null
            ? undefined
            : { ...found, id: withFresh(found.id), external: false };
        }
        if (!held.isOf(source) || importer.startsWith(wrapperId)) return undefined;
        if (!isReached(importer, held)) return undefined;
        if (isBuiltin(source)) return undefined;
        const found = await this.resolve(source, importer, { skipSelf: true });
        if (found === null || found.id.startsWith('\0')) return undefined;
        if (inNode()) return `${wrapperId}${encodeURIComponent(found.id)}`;
        const file = originalOf(found.id, this.environment);
        return isCommonJs(file) ? `${wrapperId}${encodeURIComponent(source)}` : undefined;
      },
    },
    async load(id) {
      if (id.startsWith(absentId)) {
        const source = decodeURIComponent(id.slice(absentId.length));
        return absentModule(source, held.absent.get(source) ?? []);
      }
      if (id.startsWith(wrapperId)) {
        const real = decodeURIComponent(id.slice(wrapperId.length));
        if (inNode()) return passOn(real, id);
        const found = await this.resolve(real, id);
        const file = found === null ? real : originalOf(found.id, this.environment);
        return wrapModule(real, namesOfCommonJs(file), real);
      }
      if (withoutFresh(id) !== id) return readFileSync(withoutQuery(id), 'utf8');
      return undefined;
    },
    transform(code, id) {
      if (!isActive() || id.startsWith('\0') || !isScript(id)) return undefined;
      const path = pathFrom(config?.root, withoutQuery(id));
      const called = ledPast(prepareCalls(code) ?? code, inNode() ? held : undefined);
      if (withoutFresh(id) !== id) return { code: makeFactory(called), map: null };
      const isPrepared = !isPackage(id) || held.isFileOf(path);
      const prepared = isPrepared ? (prepareModule(called, path) ?? called) : called;
      return prepared === code ? undefined : { code: prepared, map: null };
    },
  };
  return plugin;
}

/**
 * Ekkon's entries that a page may load: prepared one after the other as they are found, its parts would be loaded twice
 * in the first run. A copy that is linked is not prepared.
 */
const ownEntries: string[] = import.meta.url.includes('/node_modules/')
  ? ['ekkon', 'ekkon/claims', 'ekkon/requests', 'ekkon/seams', 'ekkon/weigh'].concat(
      process.env.VITEST === undefined ? [] : 'ekkon/vitest',
    )
  : [];

/** The configuration for packages, before the whole configuration is known. */
function configFor(user: UserConfig, held: HeldSeamOptions): UserConfig {
  const set = settingsOf(process.env);
  const provided = {
    provide: { [settingsKey]: set },
    browser: { commands: { [saveCommand]: saveCommandFor(set.EKKON_SAVE) } },
  };
  const { packages } = held;
  if (held.of.length === 0 && held.through.length === 0)
    return { optimizeDeps: { include: ownEntries }, test: provided } as UserConfig;
  const inPackages = {
    name: `ekkon-seams-in-packages:${held.of.join(',')}`,
    transform(code: string, id: string) {
      const path = pathFrom(user.root ?? process.cwd(), withoutQuery(id));
      if (!held.isFileOf(path) || !isScript(id)) return undefined;
      const prepared = prepareModule(code, path);
      return prepared === undefined ? undefined : { code: prepared, map: null };
    },
  };
  return {
    optimizeDeps: {
      // Those that stand behind wrappers would be found late, and the page loaded again for that.
      include: [...ownEntries, ...packages.filter((name) => !isBuiltin(name))],
      rolldownOptions: { plugins: [inPackages] },
    },
    test: {
      ...provided,
      ...(held.through.length === 0
        ? {}
        : { server: { deps: { inline: held.through.map(String) } } }),
    },
  } as UserConfig;
}

/** The environment's settings for Ekkon, with folders as absolute paths. */
function settingsOf(
  env: NodeJS.ProcessEnv,
): Readonly<Partial<Record<(typeof settings)[number], string>>> {
  const set = settings.flatMap((name) => {
    const value = env[name];
    if (value === undefined || value === '') return [];
    const isFolder = name === 'EKKON_LAST_PASS' || name === 'EKKON_SAVE';
    return [[name, isFolder ? resolve(value) : value] as const];
  });
  return Object.fromEntries(set);
}

/** Saves the ledger of a test that runs in a page: only into the folder that the environment names. */
function saveCommandFor(folder: string | undefined) {
  return (_: unknown, path: string, text: string, record: PageRecord): void => {
    if (folder === undefined || dirname(resolve(path)) !== folder)
      throw new Error(`${path} is not in the folder that EKKON_SAVE names`);
    writeSaved(path, text, record);
  };
}

function isForTests(config: ResolvedConfig): boolean {
  return config.mode === 'test' || isVitest(config);
}

/** Vitest puts plugins of its own into the configurations it makes, those of projects included. */
function isVitest({ plugins }: ResolvedConfig): boolean {
  return plugins.some(({ name }) => name === 'vitest' || name.startsWith('vitest:'));
}

interface TestConfig {
  readonly test?: { readonly browser?: { readonly enabled?: boolean } };
}

/** Whether modules are evaluated by Vitest itself, in Node: not if they are served to a browser. */
function isVitestInNode(config: ResolvedConfig): boolean {
  return isVitest(config) && (config as TestConfig).test?.browser?.enabled !== true;
}

/** Whether imports of a module pass a wrapper: those of the project, and of the packages in `through`. */
function isReached(importer: string, { through }: HeldSeamOptions): boolean {
  const owner = packageOf(withoutQuery(importer));
  return owner === undefined || through.includes(owner);
}

/** The server's data about packages that it bundles beforehand. */
interface Served {
  readonly depsOptimizer?: {
    readonly metadata: {
      readonly depInfoList: readonly { readonly file: string; readonly src?: string }[];
    };
  };
}

/** A package's own file, given the server's bundle of it. */
function originalOf(id: string, environment: unknown): string {
  const file = withoutQuery(id);
  const bundled = (environment as Served).depsOptimizer?.metadata.depInfoList ?? [];
  return bundled.find((each) => each.file === file)?.src ?? file;
}

/**
 * The source of a module that re-exports another one: runners that evaluate modules themselves give it accessors that
 * can be replaced. The exports of a CommonJS module are known only after it has run.
 */
function passOn(real: string, self: string): string {
  const from = JSON.stringify(real);
  return `import * as $ekkon_r from ${from};
import * as $ekkon_self from ${JSON.stringify(self)};
export * from ${from};
export { default } from ${from};
const all = $ekkon_r.default;
if ((typeof all === 'object' && all !== null) || typeof all === 'function')
  for (const key of Object.keys(all))
    if (!(key in $ekkon_self))
      Object.defineProperty($ekkon_self, key, { enumerable: true, configurable: true, get: () => all[key] });
`;
}

/**
 * Runners that evaluate modules themselves do not ask plugins for the platform's modules: imports of those that
 * are named are led to wrappers in the source.
 */
function ledPast(code: string, held: HeldSeamOptions | undefined): string {
  if (held === undefined || !held.of.some(isBuiltin)) return code;
  const edits = (readModule(code)?.[0] ?? []).flatMap(({ n, s, d }) => {
    if (n === undefined || !isBuiltin(n) || !held.isOf(n)) return [];
    const at = d >= 0 ? s + 1 : s;
    return [{ from: at, to: at, text: platformPart }];
  });
  return edited(code, edits);
}

function isBuiltin(source: string): boolean {
  return source.startsWith('node:') || builtinModules.includes(source);
}

function isPackage(id: string): boolean {
  return packageOf(withoutQuery(id)) !== undefined;
}

function isScript(id: string): boolean {
  return /\.(?:[cm]?[jt]sx?|vue|svelte|astro)$/.test(withoutQuery(id));
}

function pathFrom(root: string | undefined, file: string): string {
  return relative(root ?? process.cwd(), file).replaceAll('\\', '/');
}

const freshPart = new RegExp(`[?&]${freshQuery}$`);

function withoutFresh(id: string): string {
  return id.replace(freshPart, '');
}

function withFresh(id: string): string {
  return `${id}${id.includes('?') ? '&' : '?'}${freshQuery}`;
}
