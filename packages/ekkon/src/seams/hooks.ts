import * as platform from 'node:module';
import { relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { withoutQuery } from '../value/without-query.ts';
import { isCommonJs, namesOfCommonJs } from './common-js.ts';
import { makeFactory, prepareCalls } from './fresh.ts';
import { freshQuery } from './import-again.ts';
import { type HeldSeamOptions, packageOf } from './options.ts';
import { prepareModule } from './prepare.ts';
import { absentModule, wrapModule } from './wrap.ts';

/** The input and output of a hook of the platform's loader, as far as it matters here. */
export interface Resolved {
  readonly url: string;
  readonly format?: string | null | undefined;
  readonly shortCircuit?: boolean;
}
export interface Loaded {
  readonly format: string | null | undefined;
  readonly source?: string | ArrayBuffer | ArrayBufferView | undefined | null;
  readonly shortCircuit?: boolean;
}
interface ResolveContext {
  readonly parentURL?: string | undefined;
  readonly conditions?: readonly string[];
}

/** What to do with a specifier: an answer, or how to ask the next hook and what to make of its answer. */
export type Asked<T> = { readonly answer: T } | { readonly ask: string; make(result: T): T };

const absentScheme = 'ekkon-absent:';
const wrapperQuery = '?ekkon-seam';
const freshPart = `?${freshQuery}`;

/** Resolves a specifier: as usual, unless the module is absent, made anew, or stands behind a wrapper. */
export function resolving(
  specifier: string,
  { parentURL = '', conditions = [] }: ResolveContext,
  held: HeldSeamOptions,
): Asked<Resolved> {
  if (held.absent.has(specifier)) {
    const url = absentScheme + encodeURIComponent(specifier);
    return { answer: { url, format: 'module', shortCircuit: true } };
  }
  if (specifier.endsWith(freshPart)) {
    return {
      ask: specifier.slice(0, -freshPart.length),
      make: (found) => ({ ...found, url: found.url + freshPart, format: 'module' }),
    };
  }
  // The file that the process was started with has no parent, and stays unchanged.
  const isImport =
    conditions.includes('import') && parentURL !== '' && !parentURL.endsWith(wrapperQuery);
  return {
    ask: specifier,
    make(found) {
      const isWrapped = isImport && isToBeWrapped(found, held);
      return isWrapped ? { ...found, url: found.url + wrapperQuery, format: 'module' } : found;
    },
  };
}

/** Whether a module is CommonJS, and the project's own or one of those that are named. */
function isToBeWrapped({ url, format }: Resolved, held: HeldSeamOptions): boolean {
  if (!url.startsWith('file:') || url.includes('?')) return false;
  const file = fileURLToPath(url);
  if (packageOf(file) !== undefined && !held.isFileOf(pathOf(file))) return false;
  if (format === 'module' || !/\.c?js$/.test(file)) return false;
  return format === 'commonjs' || isCommonJs(file);
}

/** Loads an address: as usual, but prepared if its exports are to be replaceable. */
export function loading(url: string, held: HeldSeamOptions): Asked<Loaded> {
  if (url.startsWith(absentScheme)) {
    const specifier = decodeURIComponent(url.slice(absentScheme.length));
    const source = absentModule(specifier, held.absent.get(specifier) ?? []);
    return { answer: { format: 'module', source, shortCircuit: true } };
  }
  if (url.endsWith(wrapperQuery)) {
    const real = url.slice(0, -wrapperQuery.length);
    const file = fileURLToPath(real);
    const source = wrapModule(real, namesOfCommonJs(file), packageOf(file) ?? pathOf(file));
    return { answer: { format: 'module', source, shortCircuit: true } };
  }
  const isFresh = url.endsWith(freshPart);
  const asked = isFresh ? url.slice(0, -freshPart.length) : url;
  return { ask: asked, make: (loaded) => prepared(asked, loaded, isFresh, held) };
}

function prepared(url: string, loaded: Loaded, isFresh: boolean, held: HeldSeamOptions): Loaded {
  if (!url.startsWith('file:')) return loaded;
  const file = fileURLToPath(withoutQuery(url));
  if (packageOf(file) !== undefined && !held.isFileOf(pathOf(file)) && !isFresh) return loaded;
  const code = codeOf(loaded);
  if (code === undefined) return loaded;
  const called = prepareCalls(code) ?? code;
  const source = isFresh ? makeFactory(called) : (prepareModule(called, pathOf(file)) ?? called);
  return source === code ? loaded : { ...loaded, format: 'module', source };
}

/** Node's own, of which the types know nothing yet. */
const { stripTypeScriptTypes } = platform as unknown as {
  stripTypeScriptTypes?(code: string): string;
};

/** A module's source as the platform reads it; `undefined` if it is not a JavaScript module. */
function codeOf({ format, source }: Loaded): string | undefined {
  if (source === undefined || source === null) return undefined;
  const code = typeof source === 'string' ? source : new TextDecoder().decode(source);
  if (format === 'module') return code;
  if (format !== 'module-typescript' || stripTypeScriptTypes === undefined) return undefined;
  try {
    return stripTypeScriptTypes(code);
  } catch {
    // Syntax that does not go away without a compiler: the platform says so itself.
    return undefined;
  }
}

function pathOf(file: string): string {
  return relative(process.cwd(), file).replaceAll('\\', '/');
}
