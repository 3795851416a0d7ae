import { readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { decode, encode, type SourceMapMappings } from '@jridgewell/sourcemap-codec';
import { build, type Plugin, type Rolldown } from 'vite';
import { asciiOnly } from './build-ascii.ts';
import {
  core,
  entered,
  every,
  firsts,
  functionsOf,
  given,
  givesFunctions,
  importsOf,
  later,
  numbers,
  ofLoader,
  partOf,
  parts,
  published,
  read,
  source,
  texts,
  whole,
} from './build-parts.ts';

/**
 * How the built code is written. It is read by an engine at each start: the source map leads to readable code. Names are
 * kept, because functions and classes print by them; lines, because Node prints the one that throws.
 */
export const minified = {
  compress: false,
  mangle: { keepNames: true },
  codegen: { removeWhitespace: false },
} as const;

/** The module that knows the loader of the late parts, the loader itself, and what gives them the core's modules. */
const [lateCore, lateRequire, lateGiven] = ['\0late:core', '\0late:require', '\0late:given'];

/** Modules with a function for each one of a late part, which loads that when it is called. */
const lateTo = '\0late:to/';

/** Puts everything that every test loads into one chunk. */
export const chunkGroups = [
  {
    name: 'core',
    test: (id: string) =>
      [lateCore, lateRequire, lateGiven].includes(id) ||
      id.startsWith(lateTo) ||
      every.has(relative(source, id)),
  },
];

/**
 * Turns the core's imports from a late part into functions that load the part when they are called. In Node that
 * reads a file of its own, which receives the core's modules, so nothing is loaded twice. Elsewhere all parts are in a
 * file that is imported at the start: for that, each entry has a twin in the folder `web`.
 */
export function loadLate(): Plugin {
  const built = new Map<string, Built>();
  return {
    name: 'load-late',
    enforce: 'pre',
    async buildStart() {
      this.emitFile({ type: 'chunk', id: 'late:load', fileName: 'load.js' });
      built.set('core', { code: placesGiven() });
      for (const part of parts.keys()) built.set(part, await buildPart(part));
      for (const [part, { code, map }] of built) {
        const file = `late-${part}.cjs`;
        const end = map === undefined ? '' : `\n//# sourceMappingURL=${file}.map\n`;
        this.emitFile({ type: 'asset', fileName: file, source: code + end });
        if (map === undefined) continue;
        this.emitFile({ type: 'asset', fileName: `${file}.map`, source: JSON.stringify(map) });
      }
    },
    resolveId(id) {
      return id.startsWith('late:') ? `\0${id}` : null;
    },
    load(id) {
      if (id === '\0late:load') return loading;
      if (id === lateCore) return providing();
      if (id === lateGiven) return giving();
      if (id === lateRequire) return requiring;
      return id.startsWith(lateTo) ? calling(id.slice(lateTo.length)) : null;
    },
    transform(code, id) {
      const file = relative(source, id);
      if (id.startsWith('\0') || file.startsWith('..') || ofCommand.test(file)) return null;
      const first = firsts.get(file) ?? code;
      const made = callingLate(file, first, core.has(file) ? {} : { copies: copied });
      return { code: made, map: null };
    },
    generateBundle(_, bundle) {
      const chunks = Object.values(bundle).filter((each) => each.type === 'chunk');
      const kept = chunks.find(({ name }) => name === 'core')?.fileName ?? '';
      for (const chunk of chunks) {
        if (chunk.fileName === 'load.js') {
          const { code, map } = together(chunk.code, built);
          chunk.code = code;
          this.emitFile({ type: 'asset', fileName: 'load.js.map', source: map });
          continue;
        }
        if (onWeb.has(chunk.fileName)) {
          const twin = `import "../load.js"; ${chunk.code}`
            .replaceAll(/(?<=(?:from|import)\s*["'])\.\//g, '../')
            .replace('# sourceMappingURL=', '# sourceMappingURL=../');
          this.emitFile({ type: 'asset', fileName: `web/${chunk.fileName}`, source: twin });
        }
        if (chunk.isEntry && chunk.fileName !== apart)
          chunk.code = chunk.code.replace(/^(?:#!.*\n)?/, (first) => first + telling(kept));
      }
    },
  };
}

/** An entry for browsers that needs no late part. */
const apart = 'seams-browser.js';

/**
 * How an entry for Node says how the files beside it are read, before it does anything else. No line moves. What it imports
 * is of its own realm: a runner that gives each file of tests a realm evaluates the parts there, too.
 */
function telling(core: string): string {
  // A bundler that writes CommonJS leaves no address of the module.
  const address = 'import.meta.url ?? process.cwd() + "/bundled.js"';
  return `import { createRequire } from "node:module"; import { startFrom } from "./${core}"; startFrom({ required: () => createRequire(${address}) }); `;
}

/** The entries that are for browsers as well. */
const onWeb = new Set(['index.js', 'claims.js', 'requests.js', 'vitest.js', 'weigh.js']);

/** Knows the loader of the parts: that of the entry which was imported first. */
function providing(): string {
  let first = 0;
  const starts = [...parts].map(([part, functions]) => {
    first += functions.length;
    return [part, first];
  });
  return `const parts = ${JSON.stringify(starts)};
let known;
export const provide = (load) => {
  known ??= load;
};
export const loadPart = (part) => known(part);
export const loadLate = (number) => {
  const [part, end] = parts.find(([, end]) => number < end);
  return loadPart(part).functions.at(number - end);
};
export const later = (number) => {
  let own;
  return (...args) => (own ??= loadLate(number))(...args);
};
`;
}

/**
 * The functions of a late source: each loads it when it is called. Those that the program itself may call, or that say
 * by whom they were called, keep their names.
 */
function calling(file: string): string {
  const text = read(file).replace(/^\/\*\*[\s\S]*?\*\/$/gm, '');
  const functions = functionsOf(file).map((name) => {
    const number = String(numbers.get(`${file} ${name}`));
    const isBelow =
      published.has(name) || new RegExp(`(?<!function )\\b${name}\\b(?!\\()`).test(text);
    return isBelow
      ? `export function ${name}() { return calledThrough(loadLate(${number}), ${name})(...arguments); }\n`
      : stub(file, name);
  });
  return `import { later, loadLate } from 'late:core';
import { calledThrough } from ${inSource(ofLoader)};
${functions.join('')}`;
}

/** The same for late parts. */
function callingFromPart(file: string): string {
  const functions = functionsOf(file).map((name) => stub(file, name));
  return `import { later } from 'late:core';\n${functions.join('')}`;
}

function stub(file: string, name: string): string {
  return `export const ${name} = /* @__PURE__ */ later(${String(numbers.get(`${file} ${name}`))});\n`;
}

function inSource(file: string): string {
  return JSON.stringify(join(source, file));
}

function nameOf(file: string): string {
  return file.replace(/\.ts$/, '').replace(/\W/g, '_');
}

/** The modules of the command, which has copies of its own of late parts: it needs nearly all. */
const ofCommand = /^(?:cli|offline)\//;

/** The parts of which entries other than those of tests have copies: their errors are told apart by class. */
const copied: readonly string[] = ['failing', 'weighing'];

/**
 * A source in which each function of another, late part loads that when it is called. No line moves. What is not of the
 * core may import other things from a late part: they are loaded with it then.
 *
 * @param of `part`: what it becomes a part of; `copies`: the parts that it has copies of, with one of each module by which
 *   no part is entered
 */
function callingLate(
  file: string,
  code: string,
  { part: own, copies }: { readonly part?: string; readonly copies?: readonly string[] },
): string {
  let made = code;
  for (const { from, names, text } of importsOf(file, code)) {
    const part = partOf(from);
    if (part === undefined || part === own) continue;
    if (copies !== undefined && (copies.includes(part) || !entered.has(from))) continue;
    if (givesFunctions(from, names)) {
      const called = text.replace(/'\.[^']+'/, `'late:to/${from}'`);
      made = made.replace(text, () => called);
    } else if (core.has(file)) {
      throw new Error(`${file} imports more than functions of ${from}, which is loaded late`);
    }
  }
  return made;
}

/** What a late part gives: its functions by number, and the modules of which another part needs more. */
function exportsOf(part: string): string {
  const files = [...entered].filter((file) => partOf(file) === part);
  const functions = (parts.get(part) ?? []).map(({ file, name }) => `${nameOf(file)}.${name}`);
  return `${files.map((file) => `import * as ${nameOf(file)} from ${inSource(file)};\n`).join('')}
export const functions = [${functions.join(', ')}];
export { ${files
    .filter((file) => whole.has(file))
    .map(nameOf)
    .join(', ')} };
`;
}

/** Stands for all late parts in the file that has them in one. */
const allParts = 'ALL_LATE_PARTS';

/** Gives all late parts: each is made when it is first needed. */
const loading = `import { startFrom } from 'late:require';
const parts = ${allParts};
startFrom({ parts });
`;

interface Built {
  readonly code: string;
  readonly map?: Rolldown.SourceMap | undefined;
}

/** Puts the parts into the file that has them all, with one map. */
function together(loader: string, built: ReadonlyMap<string, Built>) {
  const [before = '', after = ''] = loader.split(allParts);
  let code = `${before}{\n`;
  const mappings: SourceMapMappings = [];
  const names: string[] = [];
  const sources: string[] = [];
  const contents: (string | null)[] = [];
  for (const [part, { code: own, map }] of built) {
    code += `${JSON.stringify(part)}:\n`;
    const start = code.split('\n').length - 1;
    code += `${own.replace('module.exports = ', '').replace(/;?\s*$/, '')},\n`;
    if (map === undefined) continue;
    while (mappings.length < start) mappings.push([]);
    for (const line of decode(map.mappings))
      mappings.push(
        line.map((each) => {
          if (each.length === 1) return each;
          const [column, from, row, start, name] = each;
          const at: [number, number, number, number] = [column, from + sources.length, row, start];
          return name === undefined ? at : [...at, name + names.length];
        }),
      );
    names.push(...map.names);
    sources.push(...map.sources);
    contents.push(...(map.sourcesContent ?? []));
  }
  const map = { version: 3, file: 'load.js', names, sources, sourcesContent: contents };
  return {
    code: `${code}}${after}//# sourceMappingURL=load.js.map\n`,
    map: JSON.stringify({ ...map, mappings: encode(mappings) }),
  };
}

/**
 * What late parts import from the core. It stands in the core's own chunk: between two, an engine links each name, which
 * takes longer than all the rest of the loader.
 */
function giving(): string {
  const imports = [...given].map(([file, names]) => {
    const named = [...names].map((name) => `${name} as ${nameOf(file)}_${name}`);
    return `import { ${named.join(', ')} } from ${inSource(file)};\n`;
  });
  const held = [...given].flatMap(([file, names]) =>
    [...names].map((name) => `${nameOf(file)}_${name}`),
  );
  return `${imports.join('')}export const given = () => [${held.join(', ')}];\n`;
}

/** Where late parts find each import among what is given. */
function placesGiven(): string {
  let place = 0;
  const modules = [...given].map(([file, names]) => {
    const members = [...names].map((name) => `${name}: core[${String(place++)}]`);
    return `${JSON.stringify(file)}: { ${members.join(', ')} }`;
  });
  return `module.exports = (core) => ({\n${modules.join(',\n')}\n});\n`;
}

/** Loads a late part on first use, and passes it its imports from the core. */
const requiring = `import { later, loadPart, provide } from 'late:core';
import { given } from 'late:given';
/** Takes all parts, or what makes a \`require\` that finds their files. */
export const startFrom = ({ parts, required }) => {
  let require;
  const read = (part) => (parts === undefined ? fileOf(part, (require ??= required())) : parts[part]);
  const known = {};
  let core;
  const give = (id) => {
    if (id === 'late:core') return { later };
    if (id.startsWith('late:')) return loadPart(id.slice(5).split('/')[0])[id.slice(id.indexOf('/') + 1)];
    return (core ??= read('core')(given()))[id];
  };
  provide((part) => (known[part] ??= read(part)(give)));
};
/** The file of a part: beside the entry, or in the package if a bundler has moved that. */
const fileOf = (part, require) => {
  const file = 'late-' + part + '.cjs';
  try {
    return require('./' + file);
  } catch (error) {
    if (error?.code !== 'MODULE_NOT_FOUND') throw error;
    return require(require.resolve('ekkon/package.json').replace('package.json', 'dist/' + file));
  }
};
`;

/** Makes a late part: a function that receives access to the core's modules and returns its own. */
async function buildPart(part: string): Promise<Built> {
  const outside = (file: string): string | undefined => {
    if (core.has(file)) return file;
    const other = partOf(file);
    return other === undefined || other === part ? undefined : `late:${other}/${nameOf(file)}`;
  };
  const made = await build({
    configFile: false,
    logLevel: 'warn',
    plugins: [
      {
        name: 'late-part',
        enforce: 'pre',
        resolveId(id, importer) {
          if (id === `late:${part}` || id.startsWith('late:to/')) return `\0${id}`;
          if (id === 'late:core') return { id, external: true };
          if (id.startsWith(source)) return fromPart(relative(source, id));
          if (importer === undefined || !id.startsWith('.')) return null;
          return fromPart(relative(source, join(dirname(importer), id)));
        },
        load(id) {
          if (id === `\0late:${part}`) return exportsOf(part);
          if (id.startsWith(lateTo)) return callingFromPart(id.slice(lateTo.length));
          if (!id.endsWith(later)) return null;
          return { code: readFileSync(id.replace(later, ''), 'utf8'), moduleType: 'ts' };
        },
        transform(code, id) {
          const file = relative(source, id);
          if (id.startsWith('\0') || file.startsWith('..')) return null;
          return { code: callingLate(file, texts.get(file) ?? code, { part }), map: null };
        },
      },
      asciiOnly(),
    ],
    build: {
      target: 'es2022',
      sourcemap: 'hidden',
      minify: false,
      write: false,
      rolldownOptions: {
        input: { [`late-${part}`]: `late:${part}` },
        preserveEntrySignatures: 'strict',
        external: [/^node:/],
        output: {
          format: 'cjs',
          entryFileNames: '[name].cjs',
          codeSplitting: false,
          comments: false,
          minify: minified,
          postBanner: 'module.exports = (require) => { const exports = {};',
          postFooter: 'return exports; };',
          sourcemapPathTransform: (path) => path.replace(later, ''),
        },
      },
    },
  });
  const [chunk] = 'output' in made ? made.output : [];
  if (chunk === undefined) throw new Error(`nothing was built of ${part}`);
  return { code: chunk.code, map: chunk.map ?? undefined };

  /** Where a part finds a source: in the core, in another part, or in itself. */
  function fromPart(file: string) {
    const id = outside(file);
    if (id !== undefined) return { id, external: true };
    return file.endsWith(later) ? join(source, file) : null;
  }
}
