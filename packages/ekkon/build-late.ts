import { readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build, type Plugin } from 'vite';
import { asciiOnly } from './build-ascii.ts';

const source = fileURLToPath(new URL('src', import.meta.url));

/**
 * The parts that are loaded late, on first use. The sources import their modules like any others; the core may import
 * only functions from them.
 */
const late: Readonly<Record<string, RegExp>> = {
  /** Explains, and says in words, why a claim does not hold. */
  failing:
    /^(?:report\/(?!claim-error|verdict\.|summary\.)|alter\/|explain\/(?!diagnosis|window|pending-calls)|claim\/(?:order\/)?(?:explain-|order-problems)|rule\/explain-|grammar\/|since\/|judge\/blame|pattern\/fitting)/,
  /** Copies instances of classes, whose sources it reads. */
  classes:
    /^value\/(?:hidden-state|hands-on|class-source|declared-fields|copy-instance|platform\/read)/,
  /** Replaces members of real objects. */
  observing:
    /^(?:observe\/(?!source|follow)|double\/(?:property|constructible|fake)|pattern\/properties)/,
  /** Follows streams. */
  following: /^(?:observe\/(?:source|follow)|pattern\/streams)/,
  /** Maps places in a page's code back to its sources. */
  places: /^ledger\/page-source/,
  waiting: /^wait\/(?:claim-wait|until-quiet|attend|wait-promise|reach|stays)/,
  weighing: /^weigh\/(?!weigh-if-asked)/,
  /** Runs tests with a ledger each, and keeps how they passed. */
  running: /^ledger\/(?:with-ledger|last-pass|test-text|tell-notes)/,
  /** What each kind of events has. */
  events: /^value\/platform\/event-kinds/,
  /** Shows what was recorded. */
  looking: /^(?:ledger\/look-at|record\/shown-entry|value\/showing)/,
  /** Claims that are made less often, and what they account for. */
  claims:
    /^(?:claim\/(?:conforms|exact-items|in-flight|nothing-else|precedence|during|during-parts|stretches)\.|judge\/accounting|rule\/accounts)/,
  /** Matchers that are more than a value. */
  matchers:
    /^match\/(?:collections|of-schema|numbers|logic|such-that|type-of|texts|identical|json-text|ask|define-matcher)\./,
  /** Compares values part by part. */
  deep: /^value\/(?:compare-arrays|pair-up|compare-collections|outline|compare-properties|compare-seen|near-names)/,
};

/**
 * How the built code is written. It is read by an engine at each start: the source map leads to readable code. Names are
 * kept, because functions and classes print by them; lines, because Node prints the one that throws.
 */
export const minified = {
  compress: false,
  mangle: { keepNames: true },
  codegen: { removeWhitespace: false },
} as const;

/** The module that every test loads, and those that its runner loads besides. */
const index = 'index.ts';
const runners = ['vitest/index.ts', 'node/index.ts'];

interface Imported {
  readonly from: string;
  readonly names: readonly string[];
  readonly text: string;
}

function partOf(file: string): string | undefined {
  return Object.keys(late).find((name) => late[name]?.test(file));
}

const texts = new Map<string, string>();

/** A source, which is read once: many modules import from the same ones. */
function read(file: string): string {
  const text = texts.get(file) ?? readFileSync(join(source, file), 'utf8');
  texts.set(file, text);
  return text;
}

/** The imports and re-exports of a source, types aside. */
function importsOf(file: string, code = read(file)): readonly Imported[] {
  const statements = code.matchAll(/^(?:import|export) (?!type )([^;]*?)from '(\.[^']+)';/gms);
  return [...statements].flatMap(({ 0: text, 1: clause = '', 2: path = '' }) => {
    const listed = clause.replace(/[{}]/g, '').split(',');
    const names = listed.map((name) => name.trim()).filter((name) => name && !/^type /.test(name));
    const from = relative(source, join(source, dirname(file), path));
    return names.length === 0 ? [] : [{ from, names, text }];
  });
}

/**
 * The modules that call late parts and the core modules that they need, the entries of the late parts, and their
 * imports from the core.
 */
function scan() {
  const [core, entered, visited] = [new Set<string>(), new Set<string>(), new Set<string>()];
  const given = new Map<string, Set<string>>();
  const visitCore = (file: string): void => {
    if (core.has(file)) return;
    core.add(file);
    for (const { from } of importsOf(file))
      if (partOf(from) === undefined) visitCore(from);
      else entered.add(from);
  };
  const visitLate = (file: string): void => {
    if (visited.has(file)) return;
    visited.add(file);
    for (const { from, names } of importsOf(file)) {
      if (core.has(from)) {
        const known = given.get(from) ?? new Set();
        for (const name of names) known.add(name.replace(/ as .*/, ''));
        given.set(from, known);
        continue;
      }
      if (partOf(from) !== partOf(file)) entered.add(from);
      visitLate(from);
    }
  };
  visitCore(index);
  const every = new Set(core);
  for (const file of runners) visitCore(file);
  for (const file of entered) visitLate(file);
  return { core, entered, every, given };
}

const { core, entered, every, given } = scan();

/** The module that knows the loader of the late parts, the loader itself, and what gives them the core's modules. */
const [lateCore, lateRequire, lateGiven] = ['\0late:core', '\0late:require', '\0late:given'];

/** Puts everything that every test loads into one chunk. */
export const chunkGroups = [
  {
    name: 'core',
    test: (id: string) =>
      [lateCore, lateRequire, lateGiven].includes(id) || every.has(relative(source, id)),
  },
];

/**
 * Turns the core's imports from a late part into functions that load the part when they are called. In Node that
 * reads a file of its own, which receives the core's modules, so nothing is loaded twice. Elsewhere the parts are
 * imported at the start: for that, each entry has a twin in the folder `web`.
 */
export function loadLate(): Plugin {
  return {
    name: 'load-late',
    enforce: 'pre',
    buildStart() {
      this.emitFile({ type: 'chunk', id: 'late:load', fileName: 'load.js' });
    },
    resolveId(id) {
      return id.startsWith('late:') ? `\0${id}` : null;
    },
    load(id) {
      if (id === '\0late:load') return loading();
      if (id === lateCore) return providing;
      if (id === lateGiven) return giving();
      return id === lateRequire ? requiring : null;
    },
    transform(code, id) {
      const file = relative(source, id);
      if (file.startsWith('..') || ofCommand.test(file)) return null;
      const called = callingLate(file, code, core.has(file) ? undefined : copied);
      return { code: file === index ? `${called}\nimport 'late:require';` : called, map: null };
    },
    generateBundle(_, bundle) {
      for (const chunk of Object.values(bundle)) {
        if (chunk.type !== 'chunk' || !onWeb.has(chunk.fileName)) continue;
        const twin = chunk.code
          .replaceAll(/(?<=(?:from|import)\s*["'])\.\//g, '../')
          .replace(/(?:\n\/\/# sourceMappingURL=)|$/, (map) => `\nimport "../load.js";${map}`)
          .replace('# sourceMappingURL=', '# sourceMappingURL=../');
        this.emitFile({ type: 'asset', fileName: `web/${chunk.fileName}`, source: twin });
      }
    },
    async writeBundle({ dir = '' }) {
      for (const name of Object.keys(late)) await buildPart(name, dir);
    },
  };
}

/** The entries that are for browsers as well. */
const onWeb = new Set(['index.js', 'claims.js', 'requests.js', 'vitest.js', 'weigh.js']);

/** The first part that is loaded settles the way: Node's own, unless an entry for browsers has imported all parts. */
const providing = `let known, otherwise;
export const provide = (load) => {
  known ??= load;
};
export const fallBackOn = (load) => {
  otherwise = load;
};
export const loadLate = (part) => (known ??= otherwise)(part);
`;

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
 * @param copies the parts that it has copies of, if it has any; it has one of each module by which no part is entered
 */
function callingLate(file: string, code: string, copies?: readonly string[]): string {
  let made = code;
  for (const { from, names, text } of importsOf(file, code)) {
    const part = partOf(from);
    if (part === undefined || part === partOf(file)) continue;
    if (copies !== undefined && (copies.includes(part) || !entered.has(from))) continue;
    const imported = read(from);
    const other = names.find(
      (name) => !new RegExp(`^export (?:async )?function ${name}\\b`, 'm').test(imported),
    );
    if (other !== undefined) {
      if (!core.has(file)) continue;
      throw new Error(`${file} imports ${other} of ${from}: a late part gives functions alone`);
    }
    const functions = names.map((name) => {
      const own = `loadLate(${JSON.stringify(part)}).${nameOf(from)}.${name}`;
      return text.startsWith('export')
        ? `export function ${name}(...args) { const own = ${own}; calledThrough(own, ${name}); return own(...args); }`
        : `function ${name}(...args) { return ${own}(...args); }`;
    });
    const loader = made.includes('late:core')
      ? ''
      : `import { loadLate } from 'late:core'; import { calledThrough } from ${inSource('value/below.ts')}; `;
    const lines = '\n'.repeat(text.split('\n').length - 1);
    made = made.replace(text, () => `${loader}${functions.join(' ')}${lines}`);
  }
  return made;
}

/** The modules by which a late part is entered, each under a name of its own. */
function exportsOf(part: string): string {
  const modules = [...entered].filter((file) => partOf(file) === part);
  return modules.map((file) => `export * as ${nameOf(file)} from ${inSource(file)};\n`).join('');
}

/** All late parts, imported at the start. */
function loading(): string {
  const modules = [...entered];
  const imports = modules.map((file) => `import * as ${nameOf(file)} from ${inSource(file)};\n`);
  const names = modules.map(nameOf).join(', ');
  return `import { provide } from 'late:core';\n${imports.join('')}const all = { ${names} };\nprovide(() => all);\n`;
}

/**
 * What late parts import from the core. It stands in the core's own chunk: between two, an engine links each name, which
 * takes longer than all the rest of the loader.
 */
function giving(): string {
  const modules = [...given].map(([file, names]) => ({ file, names: [...names] }));
  const imports = modules.map(({ file, names }) => {
    const named = names.map((name) => `${name} as ${nameOf(file)}_${name}`);
    return `import { ${named.join(', ')} } from ${inSource(file)};\n`;
  });
  const held = modules.map(({ file, names }) => {
    const members = names.map((name) => `${name}: ${nameOf(file)}_${name}`);
    return `${JSON.stringify(file)}: { ${members.join(', ')} }`;
  });
  return `${imports.join('')}let core;
export const given = (id) => {
  core ??= { ${held.join(', ')} };
  return core[id];
};
`;
}

/** Loads a late part on first use, and passes it its imports from the core. */
const requiring = `import { fallBackOn } from 'late:core';
import { given } from 'late:given';
import { builtinModule } from ${inSource('value/platform/loaded-module.ts')};
const { createRequire } = builtinModule?.('node:module') ?? {};
const known = {};
const give = (id) => {
  if (id === 'late:core') return { loadLate: load };
  if (id.startsWith('late:')) return load(id.slice(5).split('/')[0])[id.slice(id.indexOf('/') + 1)];
  return given(id);
};
/** The file of a part: beside this one, or in the package if a bundler has moved this one. */
const read = (part) => {
  // A bundler that writes CommonJS leaves no address of the module.
  const require = createRequire(import.meta.url ?? process.cwd() + '/bundled.js');
  const file = 'late-' + part + '.cjs';
  try {
    return require('./' + file);
  } catch (error) {
    if (error?.code !== 'MODULE_NOT_FOUND') throw error;
    return require(require.resolve('ekkon/package.json').replace('package.json', 'dist/' + file));
  }
};
const load = (part) => {
  known[part] ??= read(part)(give);
  return known[part];
};
fallBackOn(load);
`;

/** Writes a late part: a function that receives access to the core's modules and returns its own. */
async function buildPart(part: string, dir: string): Promise<void> {
  const outside = (file: string): string | undefined => {
    if (core.has(file)) return file;
    const other = partOf(file);
    return other === undefined || other === part ? undefined : `late:${other}/${nameOf(file)}`;
  };
  await build({
    configFile: false,
    logLevel: 'warn',
    plugins: [
      {
        name: 'late-part',
        enforce: 'pre',
        resolveId(id, importer) {
          if (id === `late:${part}`) return `\0${id}`;
          if (id === 'late:core') return { id, external: true };
          if (importer === undefined || !id.startsWith('.')) return null;
          const file = outside(relative(source, join(dirname(importer), id)));
          return file === undefined ? null : { id: file, external: true };
        },
        load: (id) => (id === `\0late:${part}` ? exportsOf(part) : null),
        transform(code, id) {
          const file = relative(source, id);
          return partOf(file) === part ? { code: callingLate(file, code), map: null } : null;
        },
      },
      asciiOnly(),
    ],
    build: {
      target: 'es2022',
      sourcemap: true,
      minify: false,
      emptyOutDir: false,
      outDir: dir,
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
        },
      },
    },
  });
}
