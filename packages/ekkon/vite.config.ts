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
      external: [/^node:/, 'commander', 'picocolors', 'table', 'vitest'],
    },
  },
});
