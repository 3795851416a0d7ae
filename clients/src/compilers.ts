import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { transformSync as transformWithBabel } from '@babel/core';
import { transformSync as transformWithEsbuild } from 'esbuild';

type Compile = (sources: readonly string[]) => readonly string[];

/** Compilers of modern scripts, by name. */
export const compilers: Readonly<Record<string, Compile>> = {
  'as written': (sources) => sources,
  'TypeScript to ES2015': (sources) => withTypeScript(sources, 'es2015'),
  'TypeScript to ES2017': (sources) => withTypeScript(sources, 'es2017'),
  'TypeScript to ES2021': (sources) => withTypeScript(sources, 'es2021'),
  'TypeScript to ES2022': (sources) => withTypeScript(sources, 'es2022'),
  'esbuild to ES2020': (sources) => sources.map((each) => withEsbuild(each, 'es2020', false)),
  'esbuild to ES2020, minified': (sources) => sources.map((each) => withEsbuild(each, 'es2020')),
  'esbuild to ES2022, minified': (sources) => sources.map((each) => withEsbuild(each, 'es2022')),
  'Babel to classes': (sources) => sources.map((each) => withBabel(each, 'chrome 70')),
  'Babel to functions': (sources) => sources.map((each) => withBabel(each, 'ie 11')),
  'Babel to functions, minified': (sources) =>
    sources.map((each) => withEsbuild(withBabel(each, 'ie 11'), 'es2015')),
};

function withEsbuild(source: string, target: string, minify = true): string {
  return transformWithEsbuild(source, { target, minify, ...(minify ? { format: 'iife' } : {}) })
    .code;
}

function withBabel(source: string, targets: string): string {
  const presets = [['@babel/preset-env', { targets }]];
  const options = { configFile: false, babelrc: false, sourceType: 'script', presets } as const;
  return transformWithBabel(source, options)?.code ?? '';
}

function withTypeScript(sources: readonly string[], target: string): readonly string[] {
  const folder = mkdtempSync(join(tmpdir(), 'ekkon-compiled-'));
  try {
    const files = sources.map((source, at) => {
      const path = join(folder, `source${at}.ts`);
      writeFileSync(path, `export {};\n${source}`);
      return path;
    });
    const compiler = createRequire(import.meta.url).resolve('typescript/package.json');
    const options = ['--target', target, '--module', 'es2015', '--moduleResolution', 'bundler'];
    execFileSync(process.execPath, [
      join(dirname(compiler), 'bin', 'tsc'),
      ...options,
      '--ignoreConfig',
      '--noCheck',
      '--removeComments',
      'false',
      ...files,
    ]);
    return files.map((path) =>
      readFileSync(path.replace(/ts$/, 'js'), 'utf8').replace(/^export \{\};$/gm, ''),
    );
  } finally {
    rmSync(folder, { recursive: true });
  }
}
