import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';

const from = (path: string) => fileURLToPath(new URL(path, import.meta.url));

export default defineConfig({
  resolve: {
    alias: [{ find: /^ekkon$/, replacement: from('src/index.ts') }],
  },
  build: {
    target: 'es2022',
    sourcemap: true,
    minify: false,
    lib: {
      entry: {
        index: from('src/index.ts'),
        file: from('src/file/index.ts'),
        vitest: from('src/vitest/index.ts'),
        node: from('src/node/index.ts'),
        cli: from('src/cli/main.ts'),
      },
      formats: ['es'],
    },
    rolldownOptions: {
      // What is read by an engine at each start needs no comments; the source map leads to them.
      output: { comments: false, minify: { compress: false, mangle: false } },
      external: [/^node:/, 'commander', 'picocolors', 'table', 'vitest'],
    },
  },
});
